--# case E051-08 7.6 correlation names
SELECT p.a FROM pair AS p, pair q WHERE p.a = q.a AND p.b = 10 AND q.b = 20;
--> no rows
SELECT p.a, q.b FROM pair p, pair q WHERE p.a = q.a AND q.b IS NULL;
--> rows
-->   2 | NULL
-->   2 | NULL
SELECT pair.a FROM pair AS p;
--> fails 42703
SELECT a FROM pair p, pair p;
--> fails 42701
--# case E051-08 7.6 the name of a table is hidden by its correlation name
SELECT hut.code FROM hut AS h;
--> fails 42703
--# case E051-08 7.6 the same table twice needs two names
SELECT COUNT(*) FROM pair x, pair y;
--> value 36
--# case E051-08 7.6 the column of an inner query hides the outer one
SELECT a FROM pair p WHERE EXISTS (SELECT 1 FROM (VALUES (3)) AS q (a) WHERE a = p.a);
--> value 3
--# case E051-08 6.7 a column that two tables have needs its table
SELECT a FROM pair x, pair y;
--> fails 42702