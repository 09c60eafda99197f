-- E091-06 Set functions: ALL quantifier
--# case the ALL quantifier
SELECT COUNT(ALL a), SUM(ALL a) FROM pair;
--> rows
-->   4 | 8
SELECT SUM(ALL a) FROM pair WHERE a IS NULL;
--> value NULL
SELECT COUNT(ALL) FROM pair;
--> fails 42884
