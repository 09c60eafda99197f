--# case E071-01 7.17 UNION DISTINCT takes equal rows, and NULLs, once
SELECT a FROM pair UNION DISTINCT SELECT a FROM pair;
--> count 4
VALUES (1, NULL) UNION VALUES (1, NULL);
--> count 1
SELECT 1 UNION SELECT 'a';
--> fails 42804
--# case E071-01 7.17 UNION alone takes rows once, also those of one side
SELECT a FROM pair UNION SELECT a FROM pair WHERE FALSE;
--> count 4