--# case E121-03 14.3 expressions in ORDER BY
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
--# case E121-03 14.3 within an expression a name is a column of the result where no table has it
SELECT a, -b AS c FROM pair WHERE a < 3 AND b IS NOT NULL ORDER BY c * 2;
--> rows
-->   2 | -20
-->   1 | -10
SELECT MAX(a) AS a FROM pair WHERE b > 5 GROUP BY b ORDER BY MAX(a) DESC NULLS LAST FETCH FIRST ROW ONLY;
--> value 3
SELECT a FROM pair WHERE a < 3 UNION VALUES (5) ORDER BY MOD(a, 5), a DESC;
--> rows
-->   5
-->   1
-->   2
SELECT DISTINCT a AS n FROM pair WHERE a < 4 ORDER BY n * -1;
--> rows
-->   3
-->   2
-->   1
--# case E121-03 14.3 a number in ORDER BY is the place of a column
SELECT b, a FROM pair WHERE a < 3 AND b IS NOT NULL ORDER BY 2 DESC;
--> rows
-->   20 | 2
-->   10 | 1
--# case E121-03 14.3 a set function in ORDER BY of a grouped query
SELECT a FROM pair GROUP BY a ORDER BY COUNT(*) DESC, a NULLS LAST;
--> rows
-->   2
-->   NULL
-->   1
-->   3
--# case E121-03 14.3 a name in an expression is a column of the table first
SELECT -a AS a FROM pair WHERE a IS NOT NULL ORDER BY a + 0;
--> rows
-->   -1
-->   -2
-->   -2
-->   -3