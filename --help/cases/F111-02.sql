--# case F111-02 17.2 READ COMMITTED: each statement sees what is committed when it starts
--# session writer
INSERT INTO pair VALUES (80, NULL);
UPDATE pair SET b = 99 WHERE a = 1;
--# session reader isolation READ COMMITTED
SELECT COUNT(*), SUM(b) FROM pair;
--> rows
-->   6 | 70
--# session writer
COMMIT;
--# session reader
SELECT COUNT(*), SUM(b) FROM pair;
--> rows
-->   7 | 159
SET TRANSACTION ISOLATION LEVEL READ COMMITTED;
--> fails 25001
--# case F111-02 4.41 a statement does not see what is committed while it runs, the next one does
--# session one
UPDATE pair SET b = 11 WHERE a = 1;
--# session two
SELECT SUM(b) FROM pair;
--> value 70
--# session one
COMMIT;
--# session two
SELECT SUM(b) FROM pair;
--> value 71
--# case F111-02 4.41 a row that was changed meanwhile is looked at again
--# session one
UPDATE pair SET a = 100 WHERE a = 1;
--# session two
UPDATE pair SET b = 0 WHERE a = 1;
--> waits for one on row pair
--# session one
COMMIT;
--# session two
--> no change