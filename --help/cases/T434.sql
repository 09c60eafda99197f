--# case T434 7.13 GROUP BY DISTINCT takes equal sets once
SELECT COUNT(*) FROM (SELECT a FROM pair WHERE a = 1 GROUP BY DISTINCT ROLLUP (a), ROLLUP (a)) d;
--> value 2
SELECT COUNT(*) FROM (SELECT a FROM pair WHERE a = 1 GROUP BY ALL ROLLUP (a), ROLLUP (a)) d;
--> value 4
SELECT COUNT(*) FROM (SELECT a FROM pair WHERE a IS NULL GROUP BY DISTINCT a, a) d;
--> value 1
SELECT z FROM pair GROUP BY DISTINCT ROLLUP (z);
--> fails 42703
--# case T434 7.13 GROUP BY DISTINCT takes equal grouping sets once
SELECT COUNT(*) FROM (SELECT a FROM pair GROUP BY DISTINCT GROUPING SETS ((a), (a))) AS t;
--> value 4