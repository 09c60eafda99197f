--# case F302-01 7.17 INTERSECT DISTINCT
SELECT a FROM pair INTERSECT DISTINCT SELECT a FROM pair WHERE a >= 2 OR a IS NULL;
--> rows in any order
-->   2
-->   3
-->   NULL
SELECT a, b FROM pair INTERSECT SELECT a FROM pair;
--> fails 42601