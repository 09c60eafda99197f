--# case T433 6.9 GROUPING of a query around stands in its subqueries
SELECT a, (SELECT GROUPING(p.a) FROM hut FETCH FIRST ROW ONLY) FROM pair p WHERE a = 1 GROUP BY ROLLUP (a) ORDER BY 2;
--> rows
-->   1 | 0
-->   NULL | 1
SELECT a FROM pair p GROUP BY ROLLUP (a) HAVING EXISTS (SELECT 1 FROM hut WHERE GROUPING(p.a) = 1);
--> value NULL
SELECT a FROM pair p WHERE 0 = (SELECT GROUPING(p.a) FROM hut) GROUP BY a;
--> fails 42803
SELECT (SELECT GROUPING(p.b) FROM hut FETCH FIRST ROW ONLY) FROM pair p GROUP BY a;
--> fails 42803
--# case T433 6.9 GROUPING of several columns
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
--# case T433 6.9 GROUPING of several columns is a number in binary
SELECT GROUPING(a, b), COUNT(*) FROM pair WHERE a = 3 GROUP BY CUBE (a, b) ORDER BY 1;
--> rows
-->   0 | 1
-->   1 | 1
-->   2 | 1
-->   3 | 1