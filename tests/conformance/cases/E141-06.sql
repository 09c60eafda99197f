-- E141-06 Basic integrity constraints: CHECK constraints
--# case CHECK lets unknown pass
INSERT INTO hut VALUES ('AAAA', 'x', 1, NULL, NULL);
--> change hut +1
INSERT INTO hut VALUES ('BBBB', 'x', 1, 0, NULL);
--> fails 23514
UPDATE hut SET beds = -1;
--> fails 23514
CREATE TABLE t (a INTEGER CHECK (a + 1));
--> fails 42804
CREATE TABLE t (a INTEGER CHECK (SUM(a) > 1));
--> fails 42803
