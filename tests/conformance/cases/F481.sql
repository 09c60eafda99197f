-- F481 Expanded NULL predicate
--# case IS NULL of rows
SELECT (1, NULL) IS NULL, (1, NULL) IS NOT NULL, (NULL, NULL) IS NULL, (1, 2) IS NOT NULL, NOT (1, NULL) IS NULL;
--> rows
-->   FALSE | FALSE | TRUE | TRUE | TRUE
SELECT (1, 2) IS EMPTY;
--> fails 42601
