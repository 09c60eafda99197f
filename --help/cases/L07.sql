-- L07 two concurrency models: locks for readers, or versions for readers, chosen per project, file or case
--# case with versions a reader does not wait
--# model versions
--# session writer
UPDATE pair SET b = 99 WHERE a = 1;
--# session reader
SELECT b FROM pair WHERE a = 1;
--> value 10
--> no locks
ROLLBACK;
--# session writer
ROLLBACK;
--# case with locking a reader waits for the writer
--# model locking
--# session writer
UPDATE pair SET b = NULL WHERE a = 1;
--# session reader
SELECT b FROM pair WHERE a = 1;
--> waits for writer
--# session writer
COMMIT;
--> wakes reader
--# session reader
--> value NULL
--> no locks
ROLLBACK;
--# case with locking the length of shared locks is that of the isolation level
--# model locking
--# session reader isolation REPEATABLE READ
SELECT name FROM guest WHERE id = 101;
--> lock row guest (101) S
--# session writer
UPDATE guest SET name = 'x' WHERE id = 101;
--> waits for reader
--# session reader
COMMIT;
--> wakes writer
--# session writer
ROLLBACK;
--# case the same under both, side by side
--# twin model = versions | locking
--# session writer
UPDATE pair SET b = 99 WHERE a = 3;
--# session reader
SELECT b FROM pair WHERE a = 3;
--> under versions: value 10
--> under locking: waits for writer
--# session writer
COMMIT;
--# session reader
ROLLBACK;
