-- E141-08 Basic integrity constraints: NOT NULL inferred on PRIMARY KEY
--# case PRIMARY KEY implies NOT NULL
CREATE TABLE t (a INTEGER, b INTEGER, PRIMARY KEY (a, b));
INSERT INTO t VALUES (1, NULL);
--> fails 23502
SELECT is_nullable FROM information_schema.columns WHERE table_name = 't';
--> rows
-->   'NO'
-->   'NO'
