--# case F221 6.5 DEFAULT as an explicit value
CREATE TABLE t (a INTEGER DEFAULT 5, b INTEGER);
INSERT INTO t VALUES (DEFAULT, DEFAULT), (1, 2);
UPDATE t SET a = DEFAULT, b = DEFAULT WHERE a = 1;
SELECT a, b FROM t;
--> rows
-->   5 | NULL
-->   5 | NULL
SELECT DEFAULT FROM t;
--> fails 42601
--# case F221 6.5 DEFAULT in a row of several
CREATE TABLE t (a INTEGER DEFAULT 1, b INTEGER DEFAULT 2);
INSERT INTO t (b, a) VALUES (DEFAULT, 9), (8, DEFAULT);
SELECT a, b FROM t ORDER BY a;
--> rows
-->   1 | 8
-->   9 | 2
--# case F221 6.5 DEFAULT is no operand
INSERT INTO pair VALUES (DEFAULT + 1, 1);
--> fails 42601