-- Waits, deadlocks and definitions, the same under both concurrency models.
--# setup
CREATE TABLE bunk (id INTEGER PRIMARY KEY, state VARCHAR(8), guest INTEGER);
CREATE TABLE stay (id INTEGER PRIMARY KEY, bunk INTEGER NOT NULL REFERENCES bunk, night DATE, UNIQUE (bunk, night));
INSERT INTO bunk VALUES (1,'free',NULL),(2,'free',NULL),(3,'free',NULL);
CREATE FUNCTION take(b INTEGER) RETURNS INTEGER MODIFIES SQL DATA BEGIN UPDATE bunk SET state='held' WHERE id = b; RETURN b; END;
CREATE PROCEDURE take_all(OUT n INTEGER) MODIFIES SQL DATA BEGIN SET n = 0; FOR r AS SELECT id FROM bunk ORDER BY id DO SET n = n + take(r.id); END FOR; END;
COMMIT;

--# case wait in the middle of a loop in a function
--# twin model = versions | locking
--# session a
UPDATE bunk SET guest = 5 WHERE id = 2;
--# session b
CALL take_all(?);
--> waits for a on bunk (2)
--# session a
ROLLBACK;
--> wakes b
--# session b
--> value n = 6
--> change bunk (1) state 'free' -> 'held'
--> change bunk (2) state 'free' -> 'held'
--> change bunk (3) state 'free' -> 'held'
ROLLBACK;
--> no locks

--# case same unique key twice, first rolls back
--# twin model = versions | locking
--# session a
INSERT INTO stay VALUES (1, 1, DATE '2031-07-01');
--# session b
INSERT INTO stay VALUES (2, 1, DATE '2031-07-01');
--> waits for a on stay
--# session a
ROLLBACK;
--> wakes b
--# session b
--> change stay +1
COMMIT;
--> committed

--# case same unique key twice, first commits
--# twin model = versions | locking
--# session a
INSERT INTO stay VALUES (1, 1, DATE '2031-07-01');
--# session b
INSERT INTO stay VALUES (2, 1, DATE '2031-07-01');
--# session a
COMMIT;
--# session b
--> fails 23505
COMMIT;

--# case three in a circle
--# twin model = versions | locking
--# session a
UPDATE bunk SET guest = 1 WHERE id = 1;
--# session b
UPDATE bunk SET guest = 2 WHERE id = 2;
--# session c
UPDATE bunk SET guest = 3 WHERE id = 3;
--# session a
UPDATE bunk SET guest = 1 WHERE id = 2;
--> waits for b on bunk (2)
--# session b
UPDATE bunk SET guest = 2 WHERE id = 3;
--> waits for c on bunk (3)
--# session c
UPDATE bunk SET guest = 3 WHERE id = 1;
--> deadlock
--> rolled back
--> wakes b
--# session b
--> count 1
COMMIT;
--> wakes a
--# session a
--> count 1
COMMIT;

--# case skip and nowait
--# twin model = versions | locking
--# session a
SELECT id FROM bunk WHERE id = 1 FOR UPDATE;
--# session b
SELECT id FROM bunk ORDER BY id FOR UPDATE SKIP LOCKED;
--> rows
-->   id
-->   2
-->   3
SELECT id FROM bunk WHERE id = 1 FOR UPDATE NOWAIT;
--> fails 5L001
SELECT id FROM bunk WHERE id = 1 FOR UPDATE WAIT 3;
--# wait 4s
--# session b
--> fails 5L002
ROLLBACK;
--# session a
ROLLBACK;

--# case conversion deadlock
--# twin model = versions | locking
--# session a
SELECT guest FROM bunk WHERE id = 1 FOR SHARE;
--# session b
SELECT guest FROM bunk WHERE id = 1 FOR SHARE;
--# session a
UPDATE bunk SET guest = 1 WHERE id = 1;
--> waits for b on bunk (1)
--# session b
UPDATE bunk SET guest = 2 WHERE id = 1;
--> deadlock
--# session a
--> count 1
COMMIT;

--# case parent deleted while a child comes
--# twin model = versions | locking
--# session a
INSERT INTO stay VALUES (1, 1, DATE '2031-07-01');
--# session b
DELETE FROM bunk WHERE id = 1;
--> waits for a on bunk (1)
--# session a
COMMIT;
--# session b
--> fails 23503
ROLLBACK;

--# case ddl against a reader
--# twin model = versions | locking
--# session a
SELECT COUNT(*) FROM bunk;
INSERT INTO stay VALUES (1, 1, DATE '2031-07-01');
--# session b
ALTER TABLE stay ADD COLUMN paid BOOLEAN;
--> waits for a on stay
--# session a
COMMIT;
--# session b
COMMIT;
SELECT * FROM stay;
--> rows
-->   id | bunk | night | paid
-->   1 | 1 | DATE '2031-07-01' | NULL

--# case autocommit session
--# twin model = versions | locking
--# session a autocommit on
UPDATE bunk SET guest = 1 WHERE id = 1;
--> committed
--> no locks
--# session b
SELECT guest FROM bunk WHERE id = 1;
--> value 1

--# case left open
UPDATE bunk SET guest = 1 WHERE id = 1;

--# case repeatable read first updater
--# session a isolation repeatable read
SELECT guest FROM bunk WHERE id = 1;
--# session b
UPDATE bunk SET guest = 9 WHERE id = 1;
COMMIT;
--# session a
SELECT guest FROM bunk WHERE id = 1;
--> value NULL
UPDATE bunk SET guest = 1 WHERE id = 1;
--> fails 40001
--> rolled back

--# case a row that referred is gone for one who has not committed that: who deletes what it referred to waits
--# twin model = versions | locking
INSERT INTO stay VALUES (1, 1, DATE '2031-07-01'), (2, 2, DATE '2031-07-01');
COMMIT;
--# session a
DELETE FROM stay WHERE id = 1;
--# session b
DELETE FROM bunk WHERE id = 1;
--> waits for a on stay (1)
--# session a
ROLLBACK;
--> wakes b
--# session b
--> fails 23503 like '%still refers%'
ROLLBACK;
--# session a
UPDATE stay SET bunk = 3 WHERE id = 2;
--# session b
DELETE FROM bunk WHERE id = 2;
--> waits for a on stay (2)
--# session a
COMMIT;
--> wakes b
--# session b
--> change bunk -1
COMMIT;

--# case and what goes with a row that is deleted goes with it, also when it had been gone meanwhile
--# twin model = versions | locking
CREATE TABLE note (id INTEGER PRIMARY KEY, bunk INTEGER REFERENCES bunk ON DELETE CASCADE);
INSERT INTO note VALUES (1, 1), (2, 1);
COMMIT;
--# session a
UPDATE note SET bunk = 2 WHERE id = 2;
--# session b
DELETE FROM bunk WHERE id = 1;
--> waits for a on note (2)
--# session a
ROLLBACK;
--> wakes b
--# session b
--> change bunk -1
--> change note -2
COMMIT;

--# case MATCH PARTIAL: the only row that fits is not committed
--# twin model = versions | locking
CREATE TABLE part (a INTEGER, b INTEGER, PRIMARY KEY (a, b));
CREATE TABLE piece (id INTEGER PRIMARY KEY, a INTEGER, b INTEGER, FOREIGN KEY (a, b) REFERENCES part MATCH PARTIAL);
COMMIT;
--# session a
INSERT INTO part VALUES (1, 1);
--# session b
INSERT INTO piece VALUES (1, 1, NULL);
--> waits for a on part (1, 1)
--# session a
ROLLBACK;
--> wakes b
--# session b
--> fails 23503 like '%no row that fits%'
ROLLBACK;
--# session b
INSERT INTO part VALUES (2, 2);
INSERT INTO piece VALUES (2, 2, NULL);
COMMIT;
--# session a
DELETE FROM piece WHERE id = 2;
--# session b
DELETE FROM part WHERE a = 2;
--> waits for a on piece (2)
--# session a
ROLLBACK;
--> wakes b
--# session b
--> fails 23503 like '%still refers%'
ROLLBACK;

--# case who is kept by nobody goes on, whoever still waits before them
--# model locking
CREATE TABLE tide (id INTEGER PRIMARY KEY, n INTEGER);
INSERT INTO tide VALUES (1, 1), (2, 2);
COMMIT;
--# session a
UPDATE tide SET n = 2 WHERE id = 1;
--# session b patience 2s
DROP TABLE tide;
--> waits for a on tide
--# session c isolation serializable
SELECT COUNT(*) FROM tide WHERE n > 0;
--> waits for a on tide
--# session d isolation repeatable read
SELECT n FROM tide WHERE id = 2;
--> waits for b on tide
--# wait 3s
--# session d isolation repeatable read
--> value 2
COMMIT;
--# session b
--> fails 5L002
--# session a
COMMIT;
--> wakes c
--# session c
--> value 2
COMMIT;

--# case TRUNCATE takes no row that somebody else has just put in
--# twin model = versions | locking
CREATE TABLE quay (id INTEGER PRIMARY KEY, n INTEGER);
INSERT INTO quay VALUES (1, 1), (2, 2);
COMMIT;
--# session a
UPDATE quay SET n = 5 WHERE id = 1;
--# session b
TRUNCATE TABLE quay;
--> waits for a on quay
--# session c
INSERT INTO quay VALUES (3, 3);
--> waits for b on quay
--# session a
COMMIT;
--> wakes b
--# session b
--> change quay -2
COMMIT;
--> wakes c
--# session c
COMMIT;
SELECT id FROM quay;
--> value 3
--# session d isolation repeatable read
SELECT COUNT(*) FROM quay;
--> value 1
--# session e
UPDATE quay SET n = 4;
--> under locking: waits for d on quay (3)
COMMIT;
--> under locking: fails 5L003
--# session d
TRUNCATE TABLE quay;
--> fails 40001
--# session e
ROLLBACK;

--# case a key that is deferrable is held from when it is written
--# twin model = versions | locking
CREATE TABLE buoy (id INTEGER PRIMARY KEY DEFERRABLE, n INTEGER);
INSERT INTO buoy VALUES (1, 1), (2, 2);
COMMIT;
--# session a
SET CONSTRAINTS ALL DEFERRED;
INSERT INTO buoy VALUES (3, 3);
--# session b
INSERT INTO buoy VALUES (3, 4);
--> waits for a on buoy (3)
--# session a
ROLLBACK;
--> wakes b
--# session b
--> change buoy +1
ROLLBACK;
--# session a
SET CONSTRAINTS ALL DEFERRED;
UPDATE buoy SET id = 5 WHERE id = 2;
--# session b
INSERT INTO buoy VALUES (5, 5);
--> waits for a on buoy (5)
--# session a
COMMIT;
--# session b
--> fails 23505
ROLLBACK;

--# case who waits for somebody whose patience ends first goes on, though its own would have ended too
--# model locking
CREATE TABLE tide (id INTEGER PRIMARY KEY, n INTEGER);
INSERT INTO tide VALUES (1, 1), (2, 2);
COMMIT;
--# session a
UPDATE tide SET n = 2 WHERE id = 1;
--# session b patience 2s
DROP TABLE tide;
--> waits for a on tide
--# session d isolation repeatable read patience 3s
SELECT n FROM tide WHERE id = 2;
--> waits for b on tide
--# session c patience 1s
SELECT n FROM tide WHERE id = 1 FOR UPDATE;
--> waits for b on tide
--# wait 5s
--# session d
--> value 2
COMMIT;
--# session b
--> fails 5L002
--# session c
--> fails 5L002
--# session a
COMMIT;
