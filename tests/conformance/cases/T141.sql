-- T141 SIMILAR predicate
--# case SIMILAR TO
SELECT 'hut42' SIMILAR TO 'hut[0-9]+', 'hut' SIMILAR TO '(hut|cabin)', 'abab' SIMILAR TO '(ab){2}', 'a.c' SIMILAR TO 'a.c', 'abc' SIMILAR TO 'a.c', 'x%' SIMILAR TO '_!%' ESCAPE '!';
--> rows
-->   TRUE | TRUE | TRUE | TRUE | FALSE | TRUE
SELECT name FROM hut WHERE name NOT SIMILAR TO '%(hut|cabin)';
--> value 'Selt refuge'
SELECT 'a1' SIMILAR TO '[[:ALPHA:]][[:DIGIT:]]', NULL SIMILAR TO '%';
--> rows
-->   TRUE | NULL
SELECT 'a' SIMILAR TO '(a';
--> fails 2201B
SELECT 1 SIMILAR TO '1';
--> fails 42804
