--# case T432 7.13 nested and concatenated grouping sets
SELECT COUNT(*) FROM (SELECT a, b FROM pair WHERE a = 3 GROUP BY GROUPING SETS (a, ROLLUP (a, b), GROUPING SETS ((), b))) d;
--> value 6
SELECT a, b, GROUPING(a, b) FROM pair WHERE a = 3 GROUP BY GROUPING SETS (a, ()), GROUPING SETS (b, ());
--> rows in any order
-->   3 | 10 | 0
-->   3 | NULL | 1
-->   NULL | 10 | 2
-->   NULL | NULL | 3
SELECT a FROM pair GROUP BY GROUPING SETS (ROLLUP (c));
--> fails 42703
--# case T432 7.13 grouping sets one beside another are each combined with each
SELECT COUNT(*) FROM (SELECT a FROM pair GROUP BY GROUPING SETS ((a), ()), GROUPING SETS ((b), ())) AS t;
--> value 15