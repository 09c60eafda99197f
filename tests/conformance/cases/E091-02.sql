-- E091-02 Set functions: COUNT
--# case COUNT of rows and of values
SELECT COUNT(*), COUNT(a), COUNT(DISTINCT a) FROM pair;
--> rows
-->   6 | 4 | 3
SELECT COUNT(*) FROM pair WHERE a > 9;
--> value 0
SELECT COUNT(a, b) FROM pair;
--> fails 42884
