-- E061-04 Basic predicates and search conditions: LIKE predicate
--# case LIKE with percent and underscore
SELECT name FROM hut WHERE name LIKE '_o%hut';
--> rows
-->   'Kolm hut'
SELECT 'a' LIKE '', '' LIKE '%', 'ab' NOT LIKE 'a_', NULL LIKE '%';
--> rows
-->   FALSE | TRUE | FALSE | NULL
SELECT 5 LIKE '5';
--> fails 42804
