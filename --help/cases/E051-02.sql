--# case E051-02 7.13 GROUP BY puts NULLs into one group
SELECT a, COUNT(*), SUM(b) FROM pair GROUP BY a;
--> rows in any order
-->   1 | 1 | 10
-->   2 | 2 | 20
-->   3 | 1 | 10
-->   NULL | 2 | 30
SELECT a, b FROM pair GROUP BY a;
--> fails 42803
--# case E051-02 7.13 no rows, no groups
SELECT a FROM pair WHERE a > 9 GROUP BY a;
--> no rows
--# case E051-02 7.13 GROUP BY of nothing makes one group
SELECT COUNT(*) FROM pair WHERE a > 9 GROUP BY ();
--> value 0
--# case E051-02 7.13 groups by several columns, NULL with NULL
SELECT a, b, COUNT(*) FROM pair GROUP BY a, b HAVING COUNT(*) > 1;
--> no rows
--# case E051-02 7.13 a grouped column may be repeated
SELECT a FROM pair GROUP BY a, a HAVING a = 2;
--> value 2
--# case E051-02 7.13 an expression over grouped columns may be selected
SELECT a + 1, a * COUNT(*) FROM pair GROUP BY a HAVING a = 2;
--> rows
-->   3 | 4