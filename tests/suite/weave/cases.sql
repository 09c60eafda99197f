--# setup
CREATE TABLE bunk (id INTEGER PRIMARY KEY, state VARCHAR(8), guest INTEGER);
CREATE TABLE told (n INTEGER);
INSERT INTO bunk VALUES (1, 'free', NULL), (2, 'free', NULL), (3, 'free', NULL);
CREATE PROCEDURE take(IN who INTEGER) BEGIN
  DECLARE b INTEGER;
  SELECT MIN(id) INTO b FROM bunk WHERE state = 'free';
  UPDATE bunk SET state = 'held', guest = who WHERE id = b;
END;
COMMIT;

--# case one bunk is given away twice
--# session desk
CALL take(101);
COMMIT;
--# session phone
CALL take(102);
COMMIT;
SELECT COUNT(DISTINCT guest) FROM bunk WHERE guest IS NOT NULL;
--> holds (SELECT COUNT(*) FROM bunk WHERE guest = 102) = 1

--# case three who touch few common rows
--# session a
UPDATE bunk SET guest = 1 WHERE id = 1;
INSERT INTO told VALUES (1);
SELECT COUNT(*) FROM bunk WHERE id = 1;
UPDATE bunk SET guest = 2 WHERE id = 1;
COMMIT;
--# session b
UPDATE bunk SET guest = 1 WHERE id = 2;
SELECT state FROM bunk WHERE id = 2;
SELECT COUNT(*) FROM bunk WHERE id = 2;
UPDATE bunk SET guest = 2 WHERE id = 2;
COMMIT;
--# session c
UPDATE bunk SET guest = 1 WHERE id = 3;
SELECT state FROM bunk WHERE id = 3;
UPDATE bunk SET guest = 5 WHERE id = 1;
UPDATE bunk SET guest = 2 WHERE id = 3;
COMMIT;

--# case deadlocks and rows without keys
--# session a
INSERT INTO told VALUES (1);
UPDATE bunk SET guest = 1 WHERE id = 1;
UPDATE bunk SET guest = 1 WHERE id = 2;
COMMIT;
--# session b
UPDATE bunk SET guest = 2 WHERE id = 2;
INSERT INTO told VALUES (2);
UPDATE bunk SET guest = 2 WHERE id = 1;
ROLLBACK;
--# session c
SELECT n FROM told;
COMMIT;

--# case serializable readers and writers
--# session a isolation serializable
SELECT COUNT(*) FROM bunk WHERE state = 'free';
UPDATE bunk SET state = 'held' WHERE id = 1;
COMMIT;
--# session b isolation serializable
SELECT COUNT(*) FROM bunk WHERE state = 'free';
UPDATE bunk SET state = 'held' WHERE id = 2;
COMMIT;
--# session c isolation repeatable read
SELECT state FROM bunk WHERE id = 1;
SELECT state FROM bunk WHERE id = 2;

--# case locking readers
--# model locking
--# session a isolation repeatable read
SELECT COUNT(*) FROM bunk;
UPDATE bunk SET guest = 9 WHERE id = 3;
COMMIT;
--# session b
SELECT guest FROM bunk WHERE id = 3;
UPDATE bunk SET guest = 8 WHERE id = 3;
ROLLBACK;
--# session c
DELETE FROM bunk WHERE id = 2;
COMMIT;
