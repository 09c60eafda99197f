--# case F041-01 7.10 JOIN is an inner join
SELECT p.a, q.b FROM pair p JOIN pair q ON p.a = q.a WHERE p.b = 10;
--> rows in any order
-->   1 | 10
-->   3 | 10
SELECT COUNT(*) FROM pair p JOIN pair q ON p.a = q.a AND p.b = q.b;
--> value 3
SELECT 1 FROM pair p JOIN pair q ON p.a;
--> fails 42804
--# case F041-01 7.10 a join without a match is empty, NULL matches nothing
SELECT COUNT(*) FROM pair p JOIN pair q ON p.a = q.b;
--> value 0
--# case F041-01 7.10 ON sees both tables, WHERE comes afterwards
SELECT p.a FROM pair p JOIN pair q ON p.a = q.a AND q.b = 20 WHERE p.b IS NULL;
--> value 2
--# case F041-01 7.10 three tables from left to right
SELECT h.code, g.name FROM stay s JOIN hut h ON h.code = s.hut JOIN guest g ON g.id = s.guest WHERE s.id = 4;
--> rows
-->   'KOLM' | 'Mirel'