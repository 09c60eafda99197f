-- T271 Savepoints
--# case savepoints
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
