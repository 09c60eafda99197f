--# case E061-06 8.8 IS NULL and IS NOT NULL
SELECT COUNT(*) FROM pair WHERE a IS NULL;
--> value 2
SELECT COUNT(*) FROM pair WHERE a IS NOT NULL AND b IS NOT NULL;
--> value 3
SELECT NULL IS NULL, (1 = NULL) IS NULL;
--> rows
-->   TRUE | TRUE
SELECT a IS NIL FROM pair;
--> fails 42601
--# case E061-06 8.8 IS NULL is never unknown
SELECT 1 IS NULL, NULL IS NULL, a IS NOT NULL, a + b IS NULL FROM pair WHERE a = 2 AND b IS NULL;
--> rows
-->   FALSE | TRUE | TRUE | TRUE
--# case E061-06 8.8 a test binds looser than arithmetic, tighter than NOT
SELECT NOT 1 IS NULL, 1 + NULL IS NULL;
--> rows
-->   TRUE | TRUE