--# case E141-01 11.4 NOT NULL
CREATE TABLE t (a INTEGER NOT NULL, b INTEGER);
INSERT INTO t VALUES (1, NULL);
INSERT INTO t VALUES (NULL, 1);
--> fails 23502
UPDATE t SET a = NULL;
--> fails 23502
INSERT INTO t (b) VALUES (1);
--> fails 23502
--# case E141-01 11.4 UPDATE to NULL is refused, and names the column
UPDATE hut SET name = NULL WHERE code = 'VARN';
--> fails 23502 like '%name%'
--# case E141-01 11.4 a default of NULL with NOT NULL is refused when it is used
CREATE TABLE t (a INTEGER DEFAULT NULL NOT NULL);
INSERT INTO t VALUES (DEFAULT);
--> fails 23502