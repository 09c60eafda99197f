--# case E141-03 11.7 PRIMARY KEY
INSERT INTO hut VALUES ('VARN', 'again', 1, 1, NULL);
--> fails 23505 like '%VARN%'
UPDATE hut SET code = 'KOLM' WHERE code = 'DORN';
--> fails 23505
INSERT INTO hut (name) VALUES ('no code');
--> fails 23502
CREATE TABLE t (a INTEGER PRIMARY KEY, b INTEGER PRIMARY KEY);
--> fails 42710
--# case E141-03 11.7 texts of a key compare as CHAR does
CREATE TABLE t (c CHAR(5) PRIMARY KEY);
INSERT INTO t VALUES ('ab');
INSERT INTO t VALUES ('ab   ');
--> fails 23505
--# case E141-03 11.7 a key of several columns
CREATE TABLE t (a INTEGER, b INTEGER, PRIMARY KEY (a, b));
INSERT INTO t VALUES (1, 1), (1, 2), (2, 1);
INSERT INTO t VALUES (1, 2);
--> fails 23505
UPDATE t SET b = 1;
--> fails 23505