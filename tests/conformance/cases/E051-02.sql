-- E051-02 Basic query specification: GROUP BY clause
--# case GROUP BY puts NULLs into one group
SELECT a, COUNT(*), SUM(b) FROM pair GROUP BY a;
--> rows in any order
-->   1 | 1 | 10
-->   2 | 2 | 20
-->   3 | 1 | 10
-->   NULL | 2 | 30
SELECT a, b FROM pair GROUP BY a;
--> fails 42803
