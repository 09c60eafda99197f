-- E061-06 Basic predicates and search conditions: NULL predicate
--# case IS NULL and IS NOT NULL
SELECT COUNT(*) FROM pair WHERE a IS NULL;
--> value 2
SELECT COUNT(*) FROM pair WHERE a IS NOT NULL AND b IS NOT NULL;
--> value 3
SELECT NULL IS NULL, (1 = NULL) IS NULL;
--> rows
-->   TRUE | TRUE
SELECT a IS NIL FROM pair;
--> fails 42601
