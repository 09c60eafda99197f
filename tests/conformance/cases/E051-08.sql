-- E051-08 Basic query specification: Correlation names in the FROM clause
--# case correlation names
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
