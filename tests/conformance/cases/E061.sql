-- E061 Basic predicates and search conditions
--# case predicates together
SELECT a FROM pair WHERE (a BETWEEN 1 AND 2 OR a IS NULL) AND b IN (10, 30) AND NOT (b = 30 AND a IS NOT NULL);
--> rows
-->   1
-->   NULL
SELECT a FROM pair WHERE a;
--> fails 42804
