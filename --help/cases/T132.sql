--# case T132 7.17 a recursive query in a subquery
SELECT a, (WITH RECURSIVE f (n, v) AS (SELECT 0, 1 UNION ALL SELECT n + 1, v * (n + 1) FROM f WHERE n < p.a) SELECT MAX(v) FROM f) FROM pair p WHERE b = 10 OR b IS NULL AND a IS NULL ORDER BY a;
--> rows
-->   1 | 1
-->   3 | 6
-->   NULL | 1
SELECT (WITH RECURSIVE f (n) AS (SELECT 1 UNION ALL SELECT n, n FROM f) SELECT 1);
--> fails 42601
--# case T132 7.17 a recursion for each outer row
SELECT n, (WITH RECURSIVE r (k) AS (VALUES (1) UNION ALL SELECT k + 1 FROM r WHERE k < v.n) SELECT SUM(k) FROM r) FROM (VALUES (1), (4)) AS v (n) ORDER BY n;
--> rows
-->   1 | 1
-->   4 | 10