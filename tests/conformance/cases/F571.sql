-- F571 Truth value tests
--# case truth value tests
SELECT (1 = NULL) IS UNKNOWN, (1 = 1) IS TRUE, (1 = 2) IS NOT FALSE, (NULL > 1) IS NOT TRUE, TRUE IS UNKNOWN;
--> rows
-->   TRUE | TRUE | FALSE | TRUE | FALSE
SELECT COUNT(*) FROM pair WHERE (a > 1) IS UNKNOWN;
--> value 2
SELECT 1 IS TRUE;
--> fails 42804
