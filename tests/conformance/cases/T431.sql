-- T431 Extended grouping capabilities
--# case ROLLUP, CUBE, GROUPING SETS and GROUPING
SELECT hut, guest, COUNT(*) FROM stay WHERE hut <> 'KOLM' GROUP BY ROLLUP (hut, guest);
--> rows in any order
-->   'VARN' | 101 | 1
-->   'VARN' | 102 | 1
-->   'SELT' | 102 | 1
-->   'VARN' | NULL | 2
-->   'SELT' | NULL | 1
-->   NULL | NULL | 3
SELECT a, b, COUNT(*), GROUPING(a) FROM pair WHERE a = 3 GROUP BY CUBE (a, b);
--> rows in any order
-->   3 | 10 | 1 | 0
-->   3 | NULL | 1 | 0
-->   NULL | 10 | 1 | 1
-->   NULL | NULL | 1 | 1
SELECT a, COUNT(*), GROUPING(a) FROM pair GROUP BY GROUPING SETS ((a), ()) HAVING a IS NULL;
--> rows in any order
-->   NULL | 2 | 0
-->   NULL | 6 | 1
SELECT a, SUM(b) FROM pair WHERE a > 99 GROUP BY ROLLUP (a);
--> rows
-->   NULL | NULL
SELECT GROUPING(b) FROM pair GROUP BY ROLLUP (a);
--> fails 42803
