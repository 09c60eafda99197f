--# case E141-02 11.7 UNIQUE over NOT NULL columns
CREATE TABLE t (a INTEGER NOT NULL, b INTEGER NOT NULL, UNIQUE (a, b));
INSERT INTO t VALUES (1, 1), (1, 2), (2, 1);
INSERT INTO t VALUES (1, 2);
--> fails 23505
UPDATE t SET b = b + 1;
--> change t ~3
INSERT INTO t VALUES (NULL, 2);
--> fails 23502
CREATE TABLE u (a INTEGER, UNIQUE (c));
--> fails 42703
--# case E141-02 11.7 a key of two columns is broken only by both
INSERT INTO pair VALUES (1, 10);
--> change pair +1
--# case E141-02 11.7 uniqueness is looked at when the statement is over
CREATE TABLE t (n INTEGER NOT NULL UNIQUE);
INSERT INTO t VALUES (1), (2), (3);
UPDATE t SET n = n + 1;
--> change t ~3
UPDATE t SET n = 4 - n + 2;
--> change t ~2
--# case E141-02 11.7 two rows of one INSERT break it too
CREATE TABLE t (n INTEGER NOT NULL UNIQUE);
INSERT INTO t VALUES (1), (1);
--> fails 23505
SELECT COUNT(*) FROM t;
--> value 0
--# case E141-02 11.7 a key over a column twice is refused
CREATE TABLE t (a INTEGER NOT NULL, UNIQUE (a, a));
--> fails 42701