--# case T614 6.10 NTILE
SELECT n, NTILE(3) OVER (ORDER BY n) FROM (VALUES (1), (2), (3), (4), (5), (6), (7)) AS v (n) ORDER BY n;
--> rows
-->   1 | 1
-->   2 | 1
-->   3 | 1
-->   4 | 2
-->   5 | 2
-->   6 | 3
-->   7 | 3
SELECT NTILE(NULL) OVER (ORDER BY a) FROM pair WHERE a = 1;
--> value NULL
SELECT NTILE(0) OVER (ORDER BY a) FROM pair;
--> fails 22014
--# case T614 6.10 NTILE gives the first tiles one more
SELECT x, NTILE(3) OVER (ORDER BY x) FROM (VALUES (1), (2), (3), (4), (5)) AS t (x) ORDER BY x;
--> rows
-->   1 | 1
-->   2 | 1
-->   3 | 2
-->   4 | 2
-->   5 | 3
--# case T614 6.10 NTILE of nought is 22014
SELECT NTILE(0) OVER (ORDER BY a) FROM pair;
--> fails 22014