-- UNDO handlers, and jumps from SIGNAL to handlers of the same routine, out of loops and atomic blocks.
CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER);
INSERT INTO t VALUES (1, 1), (2, 2);
COMMIT;
CREATE PROCEDURE undo_it(k INTEGER, OUT w VARCHAR(20)) BEGIN
  UPDATE t SET v = 10 WHERE id = 1;
  BEGIN ATOMIC
    DECLARE UNDO HANDLER FOR SQLEXCEPTION SET w = 'undone';
    UPDATE t SET v = 20 WHERE id = 2;
    IF k = 0 THEN SIGNAL SQLSTATE '45000'; END IF;
    UPDATE t SET v = 100 / k WHERE id = 2;
    SET w = 'through';
  END;
END;
CALL undo_it(0, ?); SELECT * FROM t ORDER BY id; ROLLBACK;
CALL undo_it(5, ?); SELECT * FROM t ORDER BY id; ROLLBACK;
BEGIN DECLARE UNDO HANDLER FOR SQLEXCEPTION CALL note('x'); END;
CREATE PROCEDURE jump(OUT w VARCHAR(60)) BEGIN
  DECLARE i, j INTEGER DEFAULT 0;
  SET w = '';
  each: WHILE i < 3 DO
    SET i = i + 1;
    SET j = 0;
    BEGIN
      DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET w = w || 'h' || CAST(i AS VARCHAR(1));
      inside: LOOP
        SET j = j + 1;
        IF j = 2 AND i = 2 THEN ITERATE inside; END IF;
        IF j > 2 THEN SIGNAL SQLSTATE '45001'; END IF;
        SET w = w || '.';
      END LOOP inside;
    END;
    SET w = w || ' ';
  END WHILE each;
END;
CALL jump(?);
-- the work of an inner ATOMIC block is taken back when SIGNAL leaves it for a handler outside
CREATE PROCEDURE through() BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45002' CALL note('outside');
  UPDATE t SET v = 7 WHERE id = 1;
  BEGIN ATOMIC
    UPDATE t SET v = 8 WHERE id = 2;
    SIGNAL SQLSTATE '45002';
  END;
END;
CALL through(); SELECT * FROM t ORDER BY id; ROLLBACK;
-- CONTINUE takes a SIGNAL in place; its own action is not in its reach
CREATE PROCEDURE goes_on(OUT n INTEGER) BEGIN
  DECLARE odd CONDITION;
  DECLARE EXIT HANDLER FOR SQLEXCEPTION SET n = n + 100;
  SET n = 0;
  BEGIN
    DECLARE CONTINUE HANDLER FOR odd BEGIN SET n = n + 1; IF n > 2 THEN SIGNAL odd; END IF; END;
    SIGNAL odd;
    SIGNAL odd;
    SIGNAL odd;
    SET n = 50;
  END;
END;
CALL goes_on(?);
-- RESIGNAL with changes, and what an outer handler sees of it
CREATE PROCEDURE again(OUT seen VARCHAR(60)) BEGIN
  DECLARE s CHAR(5); DECLARE m VARCHAR(40);
  DECLARE EXIT HANDLER FOR SQLSTATE '45009' BEGIN
    GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE, m = MESSAGE_TEXT;
    SET seen = s || ' ' || m;
  END;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '22012' RESIGNAL SQLSTATE '45009' SET MESSAGE_TEXT = 'changed';
    SET seen = CAST(1 / 0 AS VARCHAR(5));
  END;
END;
CALL again(?);
BEGIN DECLARE a, b INTEGER DEFAULT 1; SET a = 5, b = a + 1; CALL note(CAST(a AS VARCHAR(3)) || '/' || CAST(b AS VARCHAR(3))); SET (a, b) = (b, a); CALL note(CAST(a AS VARCHAR(3))); SET a = 1, b = 2, c = 3; END;
BEGIN DECLARE a, b INTEGER DEFAULT 1; SET a = 5, b = a + 1; CALL note(CAST(a AS VARCHAR(3)) || '/' || CAST(b AS VARCHAR(3))); SET (a, b) = (b, a); CALL note(CAST(a AS VARCHAR(3))); END;
SELECT GREATEST(3, 1.5, 2), LEAST('b', 'a'), GREATEST(1, NULL), TRUNC(2.789, 1), REPEAT('ab', 3), REVERSE('abc'), YEAR(DATE '2031-07-14');
