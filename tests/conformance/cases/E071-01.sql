-- E071-01 Basic query expressions: UNION DISTINCT table operator
--# case UNION DISTINCT takes equal rows, and NULLs, once
SELECT a FROM pair UNION DISTINCT SELECT a FROM pair;
--> count 4
VALUES (1, NULL) UNION VALUES (1, NULL);
--> count 1
SELECT 1 UNION SELECT 'a';
--> fails 42804
