-- E091 Set functions
--# case set functions together
SELECT COUNT(*), COUNT(a), SUM(a), AVG(a), MIN(a), MAX(a) FROM pair;
--> rows
-->   6 | 4 | 8 | 2 | 1 | 3
SELECT SUM(MAX(a)) FROM pair;
--> fails 42803
