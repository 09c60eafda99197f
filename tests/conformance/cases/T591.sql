-- T591 UNIQUE constraints of possibly null columns
--# case UNIQUE over columns that may be NULL
CREATE TABLE t (a INTEGER UNIQUE, b INTEGER, c INTEGER, UNIQUE (b, c));
INSERT INTO t VALUES (NULL, 1, NULL), (NULL, 1, NULL), (1, 1, 1);
--> change t +3
INSERT INTO t VALUES (1, NULL, NULL);
--> fails 23505
INSERT INTO t VALUES (2, 1, 1);
--> fails 23505
