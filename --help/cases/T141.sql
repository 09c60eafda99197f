--# case T141 8.6 SIMILAR TO
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
SELECT 'a' SIMILAR TO '[]';
--> fails 2201B
SELECT 'a' SIMILAR TO '[a';
--> fails 2201B
SELECT 1 SIMILAR TO '1';
--> fails 42804
--# case T141 8.6 alternatives, repetitions and classes are for the whole text
SELECT 'abc' SIMILAR TO 'a(b|x)c', 'aab' SIMILAR TO 'a+b', 'b' SIMILAR TO 'a*b', 'abc' SIMILAR TO 'b', 'a5' SIMILAR TO 'a[0-9]', 'ab' SIMILAR TO 'a[^0-9]', 'aaa' SIMILAR TO 'a{2}', 'aa' SIMILAR TO 'a{1,2}', 'a' SIMILAR TO 'ab?';
--> rows
-->   TRUE | TRUE | TRUE | FALSE | TRUE | TRUE | FALSE | TRUE | TRUE