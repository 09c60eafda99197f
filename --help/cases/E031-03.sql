--# case E031-03 5.4 an underscore at the end
CREATE TABLE t_ (c_ INTEGER, c__ INTEGER);
INSERT INTO t_ (c_, c__) VALUES (1, NULL);
SELECT c_, c__ FROM t_;
--> rows
-->   1 | NULL
SELECT c FROM t_;
--> fails 42703
--# case E031-03 5.2 digits and underscores inside a name
SELECT a_1_ FROM (VALUES (5)) AS t2 (a_1_);
--> value 5
--# case E031-03 5.2 a name does not begin with a digit
SELECT 1 AS 1a;
--> fails 42601