-- E051-07 Basic query specification: Qualified * in select list
--# case a qualified asterisk
SELECT p.*, q.b FROM pair p, pair q WHERE p.a = 3 AND q.a = 1;
--> rows
-->   3 | 10 | 10
SELECT x.* FROM pair p;
--> fails 42704
