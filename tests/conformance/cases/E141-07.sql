-- E141-07 Basic integrity constraints: Column defaults
--# case column defaults
CREATE TABLE t (a INTEGER DEFAULT 5, b VARCHAR(10) DEFAULT 'x' || 'y', c DATE DEFAULT CURRENT_DATE, d INTEGER DEFAULT NULL);
INSERT INTO t (d) VALUES (1);
INSERT INTO t (a) VALUES (DEFAULT);
SELECT a, b, c, d FROM t;
--> rows
-->   5 | 'xy' | '2030-01-01' | 1
-->   5 | 'xy' | '2030-01-01' | NULL
UPDATE t SET a = 6, b = DEFAULT WHERE d = 1;
--> count 1
CREATE TABLE u (a INTEGER DEFAULT 'text');
--> fails 42804
