-- F111-02 Isolation levels other than SERIALIZABLE: READ COMMITTED isolation level
--# case READ COMMITTED: each statement sees what is committed when it starts
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
