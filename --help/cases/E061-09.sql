--# case E061-09 7.19 a subquery in a comparison
SELECT a FROM pair WHERE b = (SELECT MIN(b) FROM pair) ORDER BY a;
--> rows
-->   1
-->   3
SELECT 1 = (SELECT a FROM pair WHERE a = 99);
--> value NULL
SELECT 1 = (SELECT a FROM pair);
--> fails 21000
--# case E061-09 7.19 a subquery without a row is NULL, with two it is 21000
SELECT 1 > (SELECT a FROM pair WHERE a > 9), (SELECT a FROM pair WHERE a = 2) = 2;
--> fails 21000
--# case E061-09 8.2 a row compared with a subquery of as many columns
SELECT (1, 10) = (SELECT a, b FROM pair WHERE a = 1), (1, 10) > (SELECT a, b FROM pair WHERE a = 9);
--> rows
-->   TRUE | NULL