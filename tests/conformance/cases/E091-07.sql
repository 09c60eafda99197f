-- E091-07 Set functions: DISTINCT quantifier
--# case the DISTINCT quantifier
SELECT COUNT(DISTINCT b), SUM(DISTINCT b), AVG(DISTINCT a), MAX(DISTINCT a) FROM pair;
--> rows
-->   3 | 60 | 2 | 3
SELECT SUM(DISTINCT a) FROM pair WHERE a IS NULL;
--> value NULL
SELECT COUNT(DISTINCT *) FROM pair;
--> fails 42884
