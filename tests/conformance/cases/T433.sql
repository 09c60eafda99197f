-- T433 Multiargument GROUPING function
--# case GROUPING of several columns
SELECT a, b, GROUPING(a, b), GROUPING(b, a) FROM pair WHERE a = 1 GROUP BY CUBE (a, b) ORDER BY GROUPING(a, b);
--> rows
-->   1 | 10 | 0 | 0
-->   1 | NULL | 1 | 2
-->   NULL | 10 | 2 | 1
-->   NULL | NULL | 3 | 3
SELECT GROUPING(a, b) FROM pair WHERE a IS NULL AND b IS NULL GROUP BY a, b;
--> value 0
SELECT GROUPING() FROM pair GROUP BY a;
--> fails 42884
SELECT a FROM pair WHERE GROUPING(a) = 1 GROUP BY a;
--> fails 42803
