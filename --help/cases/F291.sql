--# case F291 8.11 the UNIQUE predicate
SELECT UNIQUE (SELECT a FROM pair), UNIQUE (SELECT a, b FROM pair), UNIQUE (SELECT a FROM pair WHERE a IS NULL), UNIQUE (SELECT a FROM pair WHERE a > 9);
--> rows
-->   FALSE | TRUE | TRUE | TRUE
SELECT name FROM hut h WHERE UNIQUE (SELECT price FROM stay s WHERE s.hut = h.code) ORDER BY name;
--> rows
-->   'Dorn cabin'
-->   'Selt refuge'
-->   'Varn hut'
SELECT UNIQUE (1);
--> fails 42601
--# case F291 8.11 rows with a NULL are never equal
SELECT UNIQUE (VALUES (1, NULL), (1, NULL)), UNIQUE (VALUES (1, 2), (1, 2)), UNIQUE (SELECT a FROM pair WHERE FALSE);
--> rows
-->   TRUE | FALSE | TRUE