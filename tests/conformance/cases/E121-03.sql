-- E121-03 Basic cursor support: Value expressions in ORDER BY clause
--# case expressions in ORDER BY
SELECT a, b FROM pair ORDER BY a + b NULLS LAST, COALESCE(a, 0) FETCH FIRST 3 ROWS ONLY;
--> rows
-->   1 | 10
-->   3 | 10
-->   2 | 20
SELECT name FROM hut ORDER BY CHAR_LENGTH(name), name;
--> rows
-->   'Kolm hut'
-->   'Varn hut'
-->   'Dorn cabin'
-->   'Selt refuge'
SELECT a FROM pair ORDER BY 5;
--> fails 42703
