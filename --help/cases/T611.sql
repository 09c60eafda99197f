--# case T611 6.10 row numbers, ranks and sums over windows
SELECT id, ROW_NUMBER() OVER (ORDER BY price DESC NULLS LAST, id), RANK() OVER (ORDER BY price DESC NULLS LAST), DENSE_RANK() OVER (ORDER BY price DESC NULLS LAST) FROM stay ORDER BY id;
--> rows
-->   1 | 2 | 2 | 2
-->   2 | 1 | 1 | 1
-->   3 | 3 | 3 | 3
-->   4 | 4 | 3 | 3
-->   5 | 6 | 6 | 4
-->   6 | 5 | 3 | 3
SELECT id, SUM(price) OVER (PARTITION BY hut ORDER BY id) FROM stay ORDER BY id;
--> rows
-->   1 | 31.50
-->   2 | 73.50
-->   3 | 28.00
-->   4 | 56.00
-->   5 | NULL
-->   6 | 84.00
SELECT RANK() OVER () FROM stay;
--> fails 42601
SELECT a FROM pair WHERE ROW_NUMBER() OVER (ORDER BY a) = 1;
--> fails 42601
--# case T611 6.10 RANK leaves gaps behind ties, DENSE_RANK does not
SELECT x, RANK() OVER (ORDER BY x), DENSE_RANK() OVER (ORDER BY x), ROW_NUMBER() OVER (ORDER BY x) > 0 FROM (VALUES (5), (5), (7)) AS t (x) ORDER BY x;
--> rows
-->   5 | 1 | 1 | TRUE
-->   5 | 1 | 1 | TRUE
-->   7 | 3 | 2 | TRUE
--# case T611 6.10 with ORDER BY a set function goes to the last peer, without to the last row
SELECT x, SUM(x) OVER (ORDER BY x), SUM(x) OVER () FROM (VALUES (1), (1), (2)) AS t (x) ORDER BY x;
--> rows
-->   1 | 2 | 4
-->   1 | 2 | 4
-->   2 | 4 | 4
--# case T611 6.10 windows come behind HAVING, before DISTINCT
SELECT DISTINCT COUNT(*) OVER () FROM pair WHERE a IS NOT NULL GROUP BY a HAVING COUNT(*) = 1;
--> value 2
--# case T611 6.10 a window over set functions
SELECT a, SUM(SUM(b)) OVER (ORDER BY a NULLS LAST) FROM pair GROUP BY a ORDER BY a NULLS LAST;
--> rows
-->   1 | 10
-->   2 | 30
-->   3 | 40
-->   NULL | 70
--# case T611 6.10 a partition of NULLs is one
SELECT a, COUNT(*) OVER (PARTITION BY a) FROM pair WHERE a IS NULL;
--> rows
-->   NULL | 2
-->   NULL | 2
--# case T611 6.10 a window function needs its window
SELECT ROW_NUMBER() FROM pair;
--> fails 42601