--# case E051-07 7.16 a qualified asterisk
SELECT p.*, q.b FROM pair p, pair q WHERE p.a = 3 AND q.a = 1;
--> rows
-->   3 | 10 | 10
SELECT x.* FROM pair p;
--> fails 42704
--# case E051-07 7.16 an asterisk has the columns in their order, tables from left to right
SELECT * FROM (VALUES (1, 2)) AS x (a, b), (VALUES (3)) AS y (c);
--> rows
-->   1 | 2 | 3
--# case E051-07 7.16 a qualified asterisk beside others, and twice
SELECT x.*, 9, x.* FROM (VALUES (1, 2)) AS x (a, b);
--> rows
-->   1 | 2 | 9 | 1 | 2
--# case E051-07 7.16 an asterisk needs a table
SELECT *;
--> fails 42601