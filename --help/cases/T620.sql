--# case T620 7.15 frames of GROUPS
SELECT n, SUM(n) OVER (ORDER BY n GROUPS BETWEEN 1 PRECEDING AND CURRENT ROW) FROM (VALUES (1), (1), (3), (8), (NULL)) AS t (n) ORDER BY n;
--> rows
-->   1 | 2
-->   1 | 2
-->   3 | 5
-->   8 | 11
-->   NULL | 8
SELECT SUM(a) OVER (GROUPS 1 PRECEDING) FROM pair;
--> fails 42601
--# case T620 7.15 GROUPS counts groups of peers
SELECT x, SUM(x) OVER (ORDER BY x GROUPS 1 PRECEDING) FROM (VALUES (1), (1), (5), (7)) AS t (x) ORDER BY x;
--> rows
-->   1 | 2
-->   1 | 2
-->   5 | 7
-->   7 | 12
--# case T620 7.15 a window may be made from another
SELECT x, COUNT(*) OVER (w ROWS 1 PRECEDING) FROM (VALUES (1), (2), (3)) AS t (x) WINDOW w AS (ORDER BY x) ORDER BY x;
--> rows
-->   1 | 1
-->   2 | 2
-->   3 | 2