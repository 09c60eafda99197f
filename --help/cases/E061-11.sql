--# case E061-11 8.4 a subquery in IN
SELECT name FROM guest WHERE id IN (SELECT guest FROM stay WHERE hut = 'VARN') ORDER BY id;
--> rows
-->   'Ilva'
-->   'Brann'
SELECT name FROM guest WHERE id NOT IN (SELECT guest FROM stay);
--> no rows
SELECT name FROM guest WHERE id NOT IN (SELECT guest FROM stay WHERE guest IS NOT NULL);
--> value 'Tove'
SELECT 1 IN (SELECT name FROM hut);
--> fails 42804
--# case E061-11 8.4 IN of a subquery without rows is false, of NULLs unknown
SELECT NULL IN (SELECT a FROM pair WHERE a > 9), 1 NOT IN (SELECT a FROM pair WHERE a > 9), 1 IN (SELECT a FROM pair WHERE a IS NULL);
--> rows
-->   FALSE | TRUE | NULL
--# case E061-11 8.4 rows in a subquery
SELECT (2, 20) IN (SELECT a, b FROM pair), (2, 21) IN (SELECT a, b FROM pair), (9, 9) NOT IN (SELECT a, b FROM pair WHERE a IS NOT NULL);
--> rows
-->   TRUE | NULL | TRUE
--# case E061-11 8.4 the subquery has one column for one value
SELECT 1 IN (SELECT a, b FROM pair);
--> fails 42601