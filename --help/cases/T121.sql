--# case T121 7.17 WITH in a query
WITH totals AS (SELECT hut, SUM(price) AS total FROM stay GROUP BY hut), top (t) AS (SELECT MAX(total) FROM totals) SELECT hut FROM totals, top WHERE total = t;
--> value 'KOLM'
WITH n (x) AS (VALUES (1), (NULL)) SELECT COUNT(*), COUNT(x) FROM n;
--> rows
-->   2 | 1
WITH n (x, y) AS (VALUES (1)) SELECT x FROM n;
--> fails 42601
WITH n AS (SELECT 1 AS a), n AS (SELECT 2 AS a) SELECT a FROM n;
--> fails 42701
--# case T121 7.17 a name of WITH hides the table of that name
WITH pair (a) AS (VALUES (99)) SELECT a FROM pair;
--> value 99
--# case T121 7.17 a later one sees the earlier ones, not itself
WITH x AS (SELECT 1 AS n), y AS (SELECT n + 1 AS n FROM x) SELECT x.n, y.n FROM x, y;
--> rows
-->   1 | 2
--# case T121 7.17 used twice it is the same rows
WITH x (n) AS (SELECT a FROM pair WHERE a IS NOT NULL) SELECT COUNT(*) FROM x p, x q;
--> value 16