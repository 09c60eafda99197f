-- F041-08 Basic joined table: All comparison operators are supported (rather than just =)
--# case joins by every comparison
SELECT COUNT(*) FROM pair p JOIN pair q ON p.a < q.a;
--> value 5
SELECT COUNT(*) FROM pair p JOIN pair q ON p.a <> q.a;
--> value 10
SELECT COUNT(*) FROM pair p JOIN pair q ON p.a >= q.b / 10;
--> value 12
SELECT COUNT(*) FROM pair p LEFT JOIN pair q ON p.a > q.a AND p.b <= q.b;
--> value 7
SELECT 1 FROM pair p JOIN pair q ON p.a < 'x';
--> fails 42804
