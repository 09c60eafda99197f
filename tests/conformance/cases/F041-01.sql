-- F041-01 Basic joined table: Inner join (but not necessarily the INNER keyword)
--# case JOIN is an inner join
SELECT p.a, q.b FROM pair p JOIN pair q ON p.a = q.a WHERE p.b = 10;
--> rows in any order
-->   1 | 10
-->   3 | 10
SELECT COUNT(*) FROM pair p JOIN pair q ON p.a = q.a AND p.b = q.b;
--> value 3
SELECT 1 FROM pair p JOIN pair q ON p.a;
--> fails 42804
