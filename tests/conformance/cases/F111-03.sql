-- F111-03 Isolation levels other than SERIALIZABLE: REPEATABLE READ isolation level
--# case REPEATABLE READ: what was read stays as it was
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
