--# case T431 7.13 ROLLUP, CUBE, GROUPING SETS and GROUPING
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
--# case T431 7.13 ROLLUP has a level for each column and one for all
SELECT a, b, COUNT(*) FROM pair WHERE a IS NOT NULL AND b IS NOT NULL GROUP BY ROLLUP (a, b) ORDER BY GROUPING(a), GROUPING(b), a;
--> rows
-->   1 | 10 | 1
-->   2 | 20 | 1
-->   3 | 10 | 1
-->   1 | NULL | 1
-->   2 | NULL | 1
-->   3 | NULL | 1
-->   NULL | NULL | 3
--# case T431 7.13 CUBE has every combination
SELECT COUNT(*) FROM (SELECT a, b FROM pair WHERE a IS NOT NULL AND b IS NOT NULL GROUP BY CUBE (a, b)) AS t;
--> value 9
--# case T431 7.13 a NULL of the data is not that of a total
SELECT a, GROUPING(a), COUNT(*) FROM pair GROUP BY ROLLUP (a) ORDER BY GROUPING(a), a NULLS LAST;
--> rows
-->   1 | 0 | 1
-->   2 | 0 | 2
-->   3 | 0 | 1
-->   NULL | 0 | 2
-->   NULL | 1 | 6
--# case T431 7.13 over no rows a total has a row, groups have none
SELECT COUNT(*) FROM (SELECT a FROM pair WHERE FALSE GROUP BY ROLLUP (a)) AS t;
--> value 1