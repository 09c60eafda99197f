--# case F041-08 7.10 joins by every comparison
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
--# case F041-08 7.10 a join by less and by like
SELECT COUNT(*) FROM pair p JOIN pair q ON p.a < q.a OR (p.a = q.a AND p.b < q.b);
--> value 5