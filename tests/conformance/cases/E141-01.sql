-- E141-01 Basic integrity constraints: NOT NULL constraints
--# case NOT NULL
CREATE TABLE t (a INTEGER NOT NULL, b INTEGER);
INSERT INTO t VALUES (1, NULL);
INSERT INTO t VALUES (NULL, 1);
--> fails 23502
UPDATE t SET a = NULL;
--> fails 23502
INSERT INTO t (b) VALUES (1);
--> fails 23502
