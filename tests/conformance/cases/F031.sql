-- F031 Basic schema manipulation
--# case tables and views are made, changed and dropped
CREATE TABLE t (a INTEGER);
ALTER TABLE t ADD COLUMN b VARCHAR(5) DEFAULT 'x';
CREATE VIEW v AS SELECT b FROM t;
INSERT INTO t (a) VALUES (1);
SELECT b FROM v;
--> value 'x'
DROP TABLE t;
--> fails 42893
DROP VIEW v;
DROP TABLE t;
SELECT 1 FROM t;
--> fails 42704
