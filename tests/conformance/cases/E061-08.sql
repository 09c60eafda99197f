-- E061-08 Basic predicates and search conditions: EXISTS predicate
--# case EXISTS is never unknown
SELECT EXISTS (SELECT a FROM pair WHERE a IS NULL), NOT EXISTS (SELECT 1 FROM pair WHERE a > 9);
--> rows
-->   TRUE | TRUE
SELECT name FROM hut h WHERE NOT EXISTS (SELECT 1 FROM stay s WHERE s.hut = h.code);
--> rows
-->   'Dorn cabin'
SELECT EXISTS (1);
--> fails 42601
