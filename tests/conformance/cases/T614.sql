-- T614 NTILE function
--# case NTILE
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
