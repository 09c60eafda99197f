--# case E091-07 10.9 the DISTINCT quantifier
SELECT COUNT(DISTINCT b), SUM(DISTINCT b), AVG(DISTINCT a), MAX(DISTINCT a) FROM pair;
--> rows
-->   3 | 60 | 2 | 3
SELECT SUM(DISTINCT a) FROM pair WHERE a IS NULL;
--> value NULL
SELECT COUNT(DISTINCT *) FROM pair;
--> fails 42884
--# case E091-07 10.9 DISTINCT takes each value once, by its value
SELECT COUNT(DISTINCT x), SUM(DISTINCT x) FROM (VALUES (1), (1.0), (2)) AS t (x);
--> rows
-->   2 | 3.0
--# case E091-07 10.9 two set functions with DISTINCT of their own
SELECT COUNT(DISTINCT a), COUNT(DISTINCT b), COUNT(DISTINCT a * 0) FROM pair;
--> rows
-->   3 | 3 | 1