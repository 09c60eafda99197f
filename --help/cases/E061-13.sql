--# case E061-13 7.19 correlated subqueries
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
--# case E061-13 7.19 a reference to a query two levels out
SELECT code FROM hut h WHERE EXISTS (SELECT 1 FROM guest g WHERE EXISTS (SELECT 1 FROM stay s WHERE s.hut = h.code AND s.guest = g.id AND g.member)) ORDER BY code;
--> rows
-->   'KOLM'
-->   'VARN'
--# case E061-13 7.19 a correlated subquery in the select list, WHERE and ORDER BY at once
SELECT code, (SELECT COUNT(*) FROM stay WHERE hut = code) FROM hut WHERE (SELECT COUNT(*) FROM stay WHERE hut = code) > 1 ORDER BY (SELECT COUNT(*) FROM stay WHERE hut = code) DESC;
--> rows
-->   'KOLM' | 3
-->   'VARN' | 2
--# case E061-13 7.19 a table of FROM cannot see its neighbour without LATERAL
SELECT 1 FROM hut h, (SELECT 1 AS x FROM stay s WHERE s.hut = h.code) t;
--> fails 42703