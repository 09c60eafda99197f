--# case F031-01 11.3 CREATE TABLE makes a persistent base table
CREATE TABLE t (a INTEGER, b VARCHAR(5) NOT NULL, PRIMARY KEY (a));
INSERT INTO t VALUES (1, 'x');
COMMIT;
SELECT * FROM t;
--> rows
-->   1 | 'x'
CREATE TABLE t (a INTEGER);
--> fails 42710
CREATE TABLE u (a INTEGER, a DATE);
--> fails 42701
CREATE TABLE u (a WHATEVER);
--> fails 42704