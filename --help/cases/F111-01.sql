--# case F111-01 17.2 READ UNCOMMITTED: no more may be seen than the standard allows, and less may be
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
--# case F111-01 4.41 in the versions model it sees what is committed, as READ COMMITTED does
--# model versions
--# session one
UPDATE pair SET b = 77 WHERE a = 1;
--# session two isolation READ UNCOMMITTED
SELECT b FROM pair WHERE a = 1;
--> value 10
--# case F111-01 4.41 in the locking model it sees what is not committed
--# model locking
--# session one
UPDATE pair SET b = 77 WHERE a = 1;
--# session two isolation READ UNCOMMITTED
SELECT b FROM pair WHERE a = 1;
--> value 77