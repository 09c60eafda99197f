-- T121 WITH (excluding RECURSIVE) in query expression
--# case WITH in a query
WITH totals AS (SELECT hut, SUM(price) AS total FROM stay GROUP BY hut), top (t) AS (SELECT MAX(total) FROM totals) SELECT hut FROM totals, top WHERE total = t;
--> value 'KOLM'
WITH n (x) AS (VALUES (1), (NULL)) SELECT COUNT(*), COUNT(x) FROM n;
--> rows
-->   2 | 1
WITH n (x, y) AS (VALUES (1)) SELECT x FROM n;
--> fails 42601
WITH n AS (SELECT 1 AS a), n AS (SELECT 2 AS a) SELECT a FROM n;
--> fails 42701
