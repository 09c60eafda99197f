-- T620 WINDOW clause: GROUPS option
--# case frames of GROUPS
SELECT n, SUM(n) OVER (ORDER BY n GROUPS BETWEEN 1 PRECEDING AND CURRENT ROW) FROM (VALUES (1), (1), (3), (8), (NULL)) AS t (n) ORDER BY n;
--> rows
-->   1 | 2
-->   1 | 2
-->   3 | 5
-->   8 | 11
-->   NULL | 8
SELECT SUM(a) OVER (GROUPS 1 PRECEDING) FROM pair;
--> fails 42601
