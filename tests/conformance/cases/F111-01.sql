-- F111-01 Isolation levels other than SERIALIZABLE: READ UNCOMMITTED isolation level
--# case READ UNCOMMITTED: no more may be seen than the standard allows, and less may be
--# session writer
UPDATE pair SET b = 99 WHERE a = 1;
--# session reader isolation READ UNCOMMITTED
SELECT b FROM pair WHERE a = 1;
--> value 10
--# session writer
COMMIT;
--# session reader
SELECT b FROM pair WHERE a = 1;
--> value 99
START TRANSACTION ISOLATION LEVEL READ UNCOMMITTED;
--> fails 25001
