-- E061-03 Basic predicates and search conditions: IN predicate with list of values
--# case IN with a list of values
SELECT a FROM pair WHERE a IN (1, 3, 9) ORDER BY a;
--> rows
-->   1
-->   3
SELECT 1 IN (1, NULL), 2 IN (1, NULL), 2 NOT IN (1, NULL), NULL IN (1);
--> rows
-->   TRUE | NULL | NULL | NULL
SELECT 1 IN ('a');
--> fails 42804
