-- E031 Identifiers
--# case identifiers in their forms
SELECT a AS "A a", A AS b_, "a" FROM PAIR WHERE a = 3;
--> rows
-->   "A a" | b_ | a
-->   3 | 3 | 3
SELECT "A" FROM pair;
--> fails 42703
