-- E141-02 Basic integrity constraints: UNIQUE constraints of NOT NULL columns
--# case UNIQUE over NOT NULL columns
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
