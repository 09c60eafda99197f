--# case E061-08 8.10 EXISTS is never unknown
SELECT EXISTS (SELECT a FROM pair WHERE a IS NULL), NOT EXISTS (SELECT 1 FROM pair WHERE a > 9);
--> rows
-->   TRUE | TRUE
SELECT name FROM hut h WHERE NOT EXISTS (SELECT 1 FROM stay s WHERE s.hut = h.code);
--> value 'Dorn cabin'
SELECT EXISTS (1);
--> fails 42601
--# case E061-08 8.10 EXISTS looks at rows, not at values
SELECT EXISTS (SELECT NULL FROM pair WHERE a = 1), EXISTS (SELECT 1 FROM pair WHERE a = NULL), NOT EXISTS (SELECT * FROM pair WHERE FALSE);
--> rows
-->   TRUE | FALSE | TRUE
--# case E061-08 8.10 a query of a set function always has a row
SELECT EXISTS (SELECT MAX(a) FROM pair WHERE FALSE), EXISTS (SELECT MAX(a) FROM pair WHERE FALSE GROUP BY a);
--> rows
-->   TRUE | FALSE