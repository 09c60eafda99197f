-- F442 Mixed column references in set functions
--# case set functions that mix columns of a query and of the one around it
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
