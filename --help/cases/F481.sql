--# case F481 8.8 IS NULL of rows
SELECT (1, NULL) IS NULL, (1, NULL) IS NOT NULL, (NULL, NULL) IS NULL, (1, 2) IS NOT NULL, NOT (1, NULL) IS NULL;
--> rows
-->   FALSE | FALSE | TRUE | TRUE | TRUE
SELECT (1, 2) IS EMPTY;
--> fails 42601
--# case F481 8.8 a row IS NULL when all are, IS NOT NULL when none is
SELECT (NULL, NULL) IS NULL, (1, NULL) IS NULL, (1, NULL) IS NOT NULL, (1, 2) IS NOT NULL, NOT ((1, NULL) IS NULL);
--> rows
-->   TRUE | FALSE | FALSE | TRUE | TRUE