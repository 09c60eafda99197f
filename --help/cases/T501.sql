--# case T501 8.10 EXISTS over any select list
SELECT EXISTS (SELECT * FROM pair), EXISTS (SELECT a, b, NULL FROM pair WHERE a > 9), EXISTS (SELECT 1, 2);
--> rows
-->   TRUE | FALSE | TRUE
SELECT COUNT(*) FROM hut h WHERE EXISTS (SELECT s.*, h.* FROM stay s WHERE s.hut = h.code);
--> value 3
SELECT EXISTS (SELECT z FROM pair);
--> fails 42703
--# case T501 8.10 EXISTS takes a select list of several columns, and a star
SELECT EXISTS (SELECT a, b FROM pair WHERE a = 1), EXISTS (SELECT * FROM pair p, hut WHERE p.a > 9);
--> rows
-->   TRUE | FALSE