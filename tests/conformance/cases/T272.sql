-- T272 Enhanced savepoint management
--# case savepoints released and declared again
SAVEPOINT s;
INSERT INTO pair VALUES (60, NULL);
SAVEPOINT s;
INSERT INTO pair VALUES (61, NULL);
ROLLBACK TO s;
SELECT COUNT(*) FROM pair WHERE a >= 60;
--> value 1
RELEASE SAVEPOINT s;
ROLLBACK TO s;
SELECT COUNT(*) FROM pair WHERE a >= 60;
--> value 0
RELEASE SAVEPOINT s;
RELEASE SAVEPOINT s;
--> fails 3B001
