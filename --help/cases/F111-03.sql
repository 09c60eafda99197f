--# case F111-03 17.2 REPEATABLE READ: what was read stays as it was
--# session reader isolation REPEATABLE READ
SELECT b FROM pair WHERE a = 1;
--> value 10
--# session writer
UPDATE pair SET b = NULL WHERE a = 1;
COMMIT;
--# session reader
SELECT b FROM pair WHERE a = 1;
--> value 10
COMMIT;
SELECT b FROM pair WHERE a = 1;
--> value NULL
SET TRANSACTION ISOLATION LEVEL REPEATABLE;
--> fails 42601
--# case F111-03 4.41 a row that somebody has changed since is 40001
--# session two isolation REPEATABLE READ
SELECT COUNT(*) FROM pair;
--> value 6
--# session one
UPDATE pair SET b = 11 WHERE a = 1;
COMMIT;
--# session two
UPDATE pair SET b = 12 WHERE a = 1;
--> fails 40001