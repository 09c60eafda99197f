--# case T271 17.5 savepoints
INSERT INTO pair VALUES (60, NULL);
SAVEPOINT one;
INSERT INTO pair VALUES (61, NULL);
SAVEPOINT two;
INSERT INTO pair VALUES (62, NULL);
ROLLBACK TO SAVEPOINT one;
--> to savepoint one
SELECT COUNT(*) FROM pair WHERE a >= 60;
--> value 1
ROLLBACK TO SAVEPOINT two;
--> fails 3B001
ROLLBACK TO SAVEPOINT one;
--> to savepoint one
COMMIT;
--> committed
SELECT a FROM pair WHERE a >= 60;
--> value 60
--# case T271 17.5 a savepoint undoes what came after it, and stays
INSERT INTO pair VALUES (7, 1);
SAVEPOINT a;
INSERT INTO pair VALUES (8, 1);
ROLLBACK TO SAVEPOINT a;
--> to savepoint a
INSERT INTO pair VALUES (9, 1);
ROLLBACK TO SAVEPOINT a;
SELECT MAX(a) FROM pair;
--> value 7
--# case T271 17.8 what was set after it is gone with it
SAVEPOINT a;
INSERT INTO pair VALUES (8, 1);
SAVEPOINT b;
ROLLBACK TO SAVEPOINT a;
ROLLBACK TO SAVEPOINT b;
--> fails 3B001
--# case T271 17.6 released, it and the later ones cannot be gone back to, the work stays
SAVEPOINT a;
INSERT INTO pair VALUES (8, 1);
SAVEPOINT b;
RELEASE SAVEPOINT a;
ROLLBACK TO SAVEPOINT b;
--> fails 3B001
SELECT COUNT(*) FROM pair;
--> value 7
--# case T271 17.5 a savepoint ends with its transaction
SAVEPOINT a;
COMMIT;
ROLLBACK TO SAVEPOINT a;
--> fails 3B001
--# case T271 17.8 a table made after the savepoint is gone, one dropped is there again
SAVEPOINT a;
CREATE TABLE t (n INTEGER);
DROP TABLE pair;
ROLLBACK TO SAVEPOINT a;
SELECT COUNT(*) FROM pair;
--> value 6
SELECT 1 FROM t;
--> fails 42704