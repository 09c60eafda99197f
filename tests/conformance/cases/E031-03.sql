-- E031-03 Identifiers: Trailing underscore
--# case an underscore at the end
CREATE TABLE t_ (c_ INTEGER, c__ INTEGER);
INSERT INTO t_ (c_, c__) VALUES (1, NULL);
SELECT c_, c__ FROM t_;
--> rows
-->   1 | NULL
SELECT c FROM t_;
--> fails 42703
