--# case F442 10.9 set functions that mix columns of a query and of the one around it
SELECT p.a, (SELECT SUM(q.b + p.a) FROM pair q WHERE q.b IS NOT NULL) FROM pair p WHERE p.b = 10 ORDER BY p.a;
--> rows
-->   1 | 74
-->   3 | 82
SELECT (SELECT MAX(p.a) FROM hut WHERE code = 'VARN') FROM pair p;
--> value 3
SELECT p.a, (SELECT COUNT(q.b + p.b) FROM pair q) FROM pair p WHERE p.b IS NULL AND p.a IS NULL;
--> rows
-->   NULL | 0
SELECT 1 FROM pair p WHERE (SELECT MAX(p.a) FROM hut) > 1;
--> fails 42803
SELECT 1 FROM pair p WHERE MAX(p.a) > 1;
--> fails 42803
--# case F442 10.9 a set function of an outer column makes the outer query a grouped one
SELECT (SELECT SUM(p.a + 0 * x) FROM (VALUES (1), (2)) AS t (x)) FROM pair p WHERE p.a = 3;
--> value 6