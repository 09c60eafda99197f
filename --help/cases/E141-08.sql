--# case E141-08 11.7 PRIMARY KEY implies NOT NULL
CREATE TABLE t (a INTEGER, b INTEGER, PRIMARY KEY (a, b));
INSERT INTO t VALUES (1, NULL);
--> fails 23502
SELECT is_nullable FROM information_schema.columns WHERE table_name = 't';
--> rows
-->   'NO'
-->   'NO'
--# case E141-08 11.7 a primary key refuses NULL, whichever of its columns
CREATE TABLE t (a INTEGER, b INTEGER, PRIMARY KEY (a, b));
INSERT INTO t (a) VALUES (1);
--> fails 23502