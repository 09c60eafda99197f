--# case E091 10.9 set functions together
SELECT COUNT(*), COUNT(a), SUM(a), AVG(a), MIN(a), MAX(a) FROM pair;
--> rows
-->   6 | 4 | 8 | 2 | 1 | 3
SELECT SUM(MAX(a)) FROM pair;
--> fails 42803
--# case E091 10.9 a set function over no rows is NULL, COUNT is nought
SELECT SUM(a), AVG(a), MIN(a), MAX(a), COUNT(a), COUNT(*) FROM pair WHERE a > 9;
--> rows
-->   NULL | NULL | NULL | NULL | 0 | 0
--# case E091 10.9 a set function over NULLs alone is as over no rows
SELECT SUM(a), AVG(a), MIN(a), MAX(a), COUNT(a), COUNT(*) FROM pair WHERE a IS NULL;
--> rows
-->   NULL | NULL | NULL | NULL | 0 | 2
--# case E091 10.9 set functions do not stand in WHERE
SELECT 1 FROM pair WHERE COUNT(*) > 1;
--> fails 42803
--# case E091 10.9 nor in GROUP BY, nor in ON
SELECT 1 FROM pair p JOIN pair q ON MAX(p.a) = q.a;
--> fails 42803
--# case E091 10.9 nor inside of one another
SELECT MAX(COUNT(*)) FROM pair GROUP BY a;
--> fails 42803