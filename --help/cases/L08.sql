-- L08 under each isolation level exactly the anomalies that the standard allows: dirty read, non-repeatable read, phantom, and lost update and write skew stated per model
--# case versions: write skew is let through by REPEATABLE READ, and refused by SERIALIZABLE
--# twin isolation = repeatable read | serializable
--# session desk
UPDATE guest SET member = FALSE WHERE id = 101 AND (SELECT COUNT(*) FROM guest g WHERE g.member) > 1;
--> change guest ~1
--# session phone
UPDATE guest SET member = FALSE WHERE id = 103 AND (SELECT COUNT(*) FROM guest g WHERE g.member) > 1;
--> change guest ~1
--# session desk
COMMIT;
--> committed
--# session phone
COMMIT;
--> under repeatable read: committed
--> under serializable: fails 40001
--> under serializable: rolled back
--# session judge
SELECT COUNT(*) FROM guest WHERE member;
--> under repeatable read: value 0
--> under serializable: value 1
ROLLBACK;
--# case locking: a phantom is let through by REPEATABLE READ, and waits under SERIALIZABLE
--# model locking
--# twin isolation = repeatable read | serializable
--# session reader
SELECT COUNT(*) FROM pair WHERE a IS NULL;
--> value 2
--# session writer
INSERT INTO pair VALUES (NULL, 5);
--> under serializable: waits for reader on pair
COMMIT;
--> under repeatable read: committed
--> under serializable: fails 5L003
--# session reader
SELECT COUNT(*) FROM pair WHERE a IS NULL;
--> under repeatable read: value 3
--> under serializable: value 2
COMMIT;
--# session writer
COMMIT;
