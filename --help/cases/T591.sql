--# case T591 11.7 UNIQUE over columns that may be NULL
CREATE TABLE t (a INTEGER UNIQUE, b INTEGER, c INTEGER, UNIQUE (b, c));
INSERT INTO t VALUES (NULL, 1, NULL), (NULL, 1, NULL), (1, 1, 1);
--> change t +3
INSERT INTO t VALUES (1, NULL, NULL);
--> fails 23505
INSERT INTO t VALUES (2, 1, 1);
--> fails 23505
--# case T591 11.7 rows with a NULL in the key never meet
CREATE TABLE t (a INTEGER, b INTEGER, UNIQUE (a, b));
INSERT INTO t VALUES (1, NULL), (1, NULL), (NULL, NULL), (NULL, NULL);
--> change t +4
UPDATE t SET b = 2 WHERE a = 1;
--> fails 23505