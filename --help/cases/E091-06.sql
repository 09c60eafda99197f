--# case E091-06 10.9 the ALL quantifier
SELECT COUNT(ALL a), SUM(ALL a) FROM pair;
--> rows
-->   4 | 8
SELECT SUM(ALL a) FROM pair WHERE a IS NULL;
--> value NULL
SELECT COUNT(ALL) FROM pair;
--> fails 42884
--# case E091-06 10.9 ALL is what is meant without a word
SELECT COUNT(ALL b) = COUNT(b), SUM(ALL b) = SUM(b) FROM pair;
--> rows
-->   TRUE | TRUE