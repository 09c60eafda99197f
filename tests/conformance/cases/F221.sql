-- F221 Explicit defaults
--# case DEFAULT as an explicit value
CREATE TABLE t (a INTEGER DEFAULT 5, b INTEGER);
INSERT INTO t VALUES (DEFAULT, DEFAULT), (1, 2);
UPDATE t SET a = DEFAULT, b = DEFAULT WHERE a = 1;
SELECT a, b FROM t;
--> rows
-->   5 | NULL
-->   5 | NULL
SELECT DEFAULT FROM t;
--> fails 42601
