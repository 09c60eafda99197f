-- E061-13 Basic predicates and search conditions: Correlated subqueries
--# case correlated subqueries
SELECT h.code, (SELECT SUM(s.price) FROM stay s WHERE s.hut = h.code) FROM hut h ORDER BY h.code;
--> rows
-->   'DORN' | NULL
-->   'KOLM' | 84.00
-->   'SELT' | NULL
-->   'VARN' | 73.50
SELECT p.a FROM pair p WHERE p.b = (SELECT MAX(q.b) FROM pair q WHERE q.a = p.a);
--> rows
-->   1
-->   2
-->   3
SELECT (SELECT z.a) FROM pair p;
--> fails 42703
