-- Waits in the middle of nested work; functions in CHECK, DEFAULT, views; where conditions come from.
CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER NOT NULL);
CREATE TABLE log (n INTEGER, what VARCHAR(20));
INSERT INTO t VALUES (1, 1), (2, 2), (3, 3);
CREATE FUNCTION bump(k INTEGER) RETURNS INTEGER MODIFIES SQL DATA BEGIN
  DECLARE old INTEGER;
  SELECT v INTO old FROM t WHERE id = k FOR UPDATE;
  UPDATE t SET v = old + 10 WHERE id = k;
  RETURN old;
END;
CREATE PROCEDURE walk(OUT total INTEGER) BEGIN
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE k, got INTEGER;
  DECLARE c CURSOR FOR SELECT id FROM t ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  SET total = 0;
  OPEN c;
  each: LOOP
    FETCH c INTO k;
    IF done THEN LEAVE each; END IF;
    SELECT SUM(bump(x.id)) INTO got FROM t x WHERE x.id = k;
    SET total = total + got;
    INSERT INTO log VALUES (k, 'walked');
  END LOOP each;
  CLOSE c;
END;
COMMIT;
--# session a
UPDATE t SET v = 200 WHERE id = 2;
--# session b
CALL walk(?);
--# session a
COMMIT;
--# session b
SELECT * FROM t ORDER BY id;
SELECT * FROM log;
COMMIT;
-- three in a circle
--# session a
UPDATE t SET v = 0 WHERE id = 1;
--# session b
UPDATE t SET v = 0 WHERE id = 2;
--# session c
UPDATE t SET v = 0 WHERE id = 3;
--# session a
SELECT bump(2);
--# session b
SELECT bump(3);
--# session c
CALL walk(?);
--# session b
ROLLBACK;
--# session a
ROLLBACK;
--# session c
SELECT * FROM log;
ROLLBACK;
-- functions in CHECK, DEFAULT and a view
CREATE FUNCTION even(n INTEGER) RETURNS BOOLEAN DETERMINISTIC RETURN MOD(n, 2) = 0;
CREATE FUNCTION next_even() RETURNS INTEGER READS SQL DATA RETURN (SELECT COALESCE(MAX(n), 0) + 2 FROM log);
CREATE TABLE e (n INTEGER DEFAULT next_even() CHECK (even(n)), w VARCHAR(5) DEFAULT 'd');
INSERT INTO e DEFAULT VALUES;
INSERT INTO e (n) VALUES (3);
INSERT INTO e VALUES (4, DEFAULT), (DEFAULT, 'x');
CREATE VIEW evens (k, is_even) AS SELECT id, even(id) FROM t WHERE even(id) OR id = 3;
SELECT * FROM evens ORDER BY k;
-- where a condition comes from, through several routines, and a RETURN in a handler
CREATE FUNCTION inner_one(n INTEGER) RETURNS INTEGER BEGIN
  IF n > 2 THEN
    SIGNAL SQLSTATE '45123' SET MESSAGE_TEXT = 'too many';
  END IF;
  RETURN n;
END;
CREATE FUNCTION outer_one(n INTEGER) RETURNS INTEGER
  RETURN inner_one(n) + 1;
CREATE FUNCTION safe_one(n INTEGER) RETURNS INTEGER BEGIN
  DECLARE m VARCHAR(40);
  DECLARE EXIT HANDLER FOR SQLSTATE '45123' BEGIN
    GET STACKED DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT;
    CALL note(m);
    RETURN -1;
  END;
  RETURN outer_one(n);
END;
SELECT outer_one(2), outer_one(3);
SELECT id, safe_one(id) FROM t ORDER BY id;
SELECT safe_one(n => 9), outer_one(n => 1);
-- FOR UPDATE through a join, and in a FOR loop
SELECT t.id, l.what FROM t JOIN log l ON l.n = t.id WHERE t.id = 1 FOR UPDATE OF t;
BEGIN FOR r AS SELECT id FROM t WHERE id > 1 FOR UPDATE DO UPDATE t SET v = v + r.id WHERE id = r.id; COMMIT; END FOR; END;
SELECT * FROM t ORDER BY id;
