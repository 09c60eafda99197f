--# case E091-02 10.9 COUNT of rows and of values
SELECT COUNT(*), COUNT(a), COUNT(DISTINCT a) FROM pair;
--> rows
-->   6 | 4 | 3
SELECT COUNT(*) FROM pair WHERE a > 9;
--> value 0
SELECT COUNT(a, b) FROM pair;
--> fails 42884
--# case E091-02 10.9 COUNT(*) counts rows of NULLs too
SELECT COUNT(*), COUNT(a), COUNT(b), COUNT(a + b) FROM pair;
--> rows
-->   6 | 4 | 4 | 3
--# case E091-02 10.9 COUNT of any type
SELECT COUNT(name), COUNT(born), COUNT(member), COUNT(DISTINCT member) FROM guest;
--> rows
-->   4 | 3 | 3 | 2