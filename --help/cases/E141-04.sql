--# case E141-04 11.8 FOREIGN KEY with NO ACTION
INSERT INTO stay VALUES (20, 'NONE', 101, NULL, NULL);
--> fails 23503
DELETE FROM guest WHERE id = 101;
--> fails 23503
UPDATE guest SET id = 999 WHERE id = 101;
--> fails 23503
INSERT INTO stay VALUES (20, 'VARN', NULL, NULL, NULL);
--> change stay +1
CREATE TABLE t (a INTEGER REFERENCES pair);
--> fails 42830
--# case E141-04 11.8 a child may be put before its parent within one statement's end, not later
CREATE TABLE t (id INTEGER PRIMARY KEY, up INTEGER REFERENCES t);
INSERT INTO t VALUES (2, 1), (1, NULL);
--> change t +2
INSERT INTO t VALUES (4, 3);
--> fails 23503
INSERT INTO t VALUES (5, 5);
--> change t +1
--# case E141-04 11.8 a parent that nobody refers to goes
DELETE FROM guest WHERE id = 104;
--> change guest -1
--# case E141-04 11.8 NO ACTION lets a statement delete parents and children of one table
CREATE TABLE t (id INTEGER PRIMARY KEY, up INTEGER REFERENCES t);
INSERT INTO t VALUES (1, NULL), (2, 1), (3, 2);
DELETE FROM t WHERE id = 1;
--> fails 23503
DELETE FROM t;
--> change t -3
--# case E141-04 11.8 a key that is not unique cannot be referred to
CREATE TABLE t (n VARCHAR(30) REFERENCES hut (name));
--> fails 42830
--# case E141-04 11.8 a key that is DEFERRABLE cannot be referred to
CREATE TABLE t (k INTEGER PRIMARY KEY DEFERRABLE, r INTEGER REFERENCES t);
--> fails 42830
--# case E141-04 11.8 as many columns on either side
CREATE TABLE t (n INTEGER, m INTEGER, FOREIGN KEY (n, m) REFERENCES guest (id));
--> fails 42830
--# case E141-04 11.8 the child is checked when it is changed
UPDATE stay SET guest = 999 WHERE id = 1;
--> fails 23503
--# case E141-04 11.8 a NULL refers to nothing
UPDATE stay SET guest = NULL;
--> change stay ~5