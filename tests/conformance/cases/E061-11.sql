-- E061-11 Basic predicates and search conditions: Subqueries in IN predicate
--# case a subquery in IN
SELECT name FROM guest WHERE id IN (SELECT guest FROM stay WHERE hut = 'VARN') ORDER BY id;
--> rows
-->   'Ilva'
-->   'Brann'
SELECT name FROM guest WHERE id NOT IN (SELECT guest FROM stay);
--> no rows
SELECT name FROM guest WHERE id NOT IN (SELECT guest FROM stay WHERE guest IS NOT NULL);
--> rows
-->   'Tove'
SELECT 1 IN (SELECT name FROM hut);
--> fails 42804
