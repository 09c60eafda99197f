-- What two can see and do at the same moment; the same under both concurrency models, and under several levels.
--# fixture valley

--# case a guest asks for the state of a bunk that the desk is just booking
--# twin model = versions | locking
--# session desk
UPDATE bunk SET state = 'held' WHERE id = 3;
--> change bunk (3) state 'free' -> 'held'
--> lock row bunk (3) X
--> lock table bunk IX
--# session phone
SELECT state FROM bunk WHERE id = 3;
--> under versions: value 'free'
--> under locking: waits for desk on bunk (3)
--# session desk
COMMIT;
--> committed
--# session phone
--> under locking: value 'held'
SELECT state FROM bunk WHERE id = 3;
--> value 'held'
COMMIT;

--# case two clerks each take a bunk out of use, so long as two stay free
--# twin isolation = repeatable read | serializable
--# session desk
UPDATE bunk SET state = 'broken' WHERE id = 3 AND (SELECT COUNT(*) FROM bunk b WHERE b.hut = 'VARN' AND b.state = 'free') > 2;
--> count 1
--# session phone
UPDATE bunk SET state = 'broken' WHERE id = 4 AND (SELECT COUNT(*) FROM bunk b WHERE b.hut = 'VARN' AND b.state = 'free') > 2;
--# session desk
COMMIT;
--> committed
--# session phone
COMMIT;
--> under repeatable read: committed
--> under serializable: fails 40001
