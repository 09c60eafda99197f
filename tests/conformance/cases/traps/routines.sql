-- What is easy to get wrong about routines and blocks.
--# case recursion has a stated limit and a condition, never a crash
CREATE FUNCTION deep(n INTEGER) RETURNS INTEGER RETURN CASE WHEN n = 0 THEN 0 ELSE 1 + deep(n - 1) END;
SELECT deep(400);
--> value 400
SELECT deep(100000);
--> fails 5B003
SELECT deep(3);
--> value 3
--# case data access is kept to: at creation, through calls, and through dynamic statements
CREATE FUNCTION looks() RETURNS INTEGER CONTAINS SQL RETURN (SELECT MAX(a) FROM pair);
--> fails 42985
CREATE FUNCTION reads() RETURNS INTEGER READS SQL DATA RETURN (SELECT MAX(a) FROM pair);
CREATE FUNCTION calls() RETURNS INTEGER CONTAINS SQL RETURN reads();
--> fails 42985
CREATE PROCEDURE writes() READS SQL DATA DELETE FROM pair;
--> fails 42985
CREATE PROCEDURE sly(IN text VARCHAR(100)) CONTAINS SQL EXECUTE IMMEDIATE text;
CALL sly('DELETE FROM pair');
--> fails 2F002
--> no change
CALL sly('SELECT a FROM pair');
--> fails 2F004
--# case a handler is not active inside itself
CREATE PROCEDURE p() BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SIGNAL SQLSTATE '45002';
  SIGNAL SQLSTATE '45001';
END;
CALL p();
--> fails 45002
--# case CONTINUE goes on behind the statement that raised, inside a loop and a nested block too
CREATE FUNCTION count_down() RETURNS VARCHAR(40) BEGIN
  DECLARE i INTEGER DEFAULT 3;
  DECLARE told VARCHAR(40) DEFAULT '';
  DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET told = told || '!';
  WHILE i > -2 DO
    SET i = i - 1;
    BEGIN
      SET told = told || CAST(6 / i AS VARCHAR(5));
      SET told = told || ';';
    END;
  END WHILE;
  RETURN told;
END;
SELECT count_down();
--> value '3;6;!;-6;-3;'
--# case a condition that nobody handles leaves the block, the routine and the statement
CREATE PROCEDURE inner_one() BEGIN INSERT INTO pair VALUES (90, 1); SIGNAL SQLSTATE '45003'; END;
CREATE PROCEDURE outer_one() BEGIN DECLARE EXIT HANDLER FOR SQLSTATE '45004' CALL note('wrong'); CALL inner_one(); CALL note('never'); END;
CALL outer_one();
--> fails 45003 in inner_one
--> no notes
--# case NOT FOUND that nobody handles inside a routine does not reach the caller's handler
CREATE PROCEDURE none() DELETE FROM pair WHERE a > 99;
CREATE PROCEDURE caller() BEGIN DECLARE CONTINUE HANDLER FOR NOT FOUND CALL note('not found'); CALL none(); DELETE FROM pair WHERE a > 99; END;
CALL caller();
--> note 'not found'
SELECT COUNT(*) FROM glimb.notes;
--> value 1
--# case ROW_COUNT is that of the last statement that changed or fetched rows
CREATE PROCEDURE p(OUT one INTEGER, OUT two INTEGER) BEGIN
  DECLARE x INTEGER;
  UPDATE pair SET b = 1 WHERE a = 2;
  SET x = 5;
  GET DIAGNOSTICS one = ROW_COUNT;
  DELETE FROM pair WHERE a = 3;
  GET DIAGNOSTICS two = ROW_COUNT;
END;
CALL p(?, ?);
--> value one = 2
--> value two = 1
--# case RESIGNAL in a routine that a handler called has no handler of its own
CREATE PROCEDURE again() RESIGNAL;
CREATE PROCEDURE p() BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION CALL again(); SIGNAL SQLSTATE '45001'; END;
CALL p();
--> fails 0K000
--# case LEAVE from a handler
CREATE FUNCTION f() RETURNS VARCHAR(20) BEGIN
  DECLARE told VARCHAR(20) DEFAULT 'start';
  work: BEGIN
    DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN SET told = 'handled'; LEAVE work; END;
    SIGNAL SQLSTATE '45001';
  END work;
  RETURN told || ' on';
END;
SELECT f();
--> value 'handled on'
--# case ITERATE in REPEAT tests UNTIL
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE i INTEGER DEFAULT 0; r: REPEAT SET i = i + 1; ITERATE r; UNTIL i >= 3 END REPEAT r; RETURN i; END;
SELECT f();
--> value 3
--# case an UNDO handler takes back the work of its block, then acts
CREATE PROCEDURE p() BEGIN
  INSERT INTO pair VALUES (91, 1);
  BEGIN ATOMIC
    DECLARE UNDO HANDLER FOR SQLEXCEPTION CALL note('undone');
    INSERT INTO pair VALUES (92, 1);
    SIGNAL SQLSTATE '45001';
  END;
END;
CALL p();
--> change pair +1
--> note 'undone'
--# case COMMIT in an atomic block, reached through a call
CREATE PROCEDURE ends() COMMIT;
CREATE PROCEDURE p() BEGIN ATOMIC INSERT INTO pair VALUES (93, 1); CALL ends(); END;
CALL p();
--> fails 2D000
--> no change
--# case a variable hides a column, and the qualified name reaches it
CREATE FUNCTION f(a INTEGER) RETURNS BIGINT RETURN (SELECT COUNT(*) FROM pair p WHERE p.a = f.a);
SELECT f(2);
--> value 2
--# case several result sets: the first is the CALL's rows, in the order of OPEN
CREATE PROCEDURE p() BEGIN
  DECLARE one CURSOR WITH RETURN FOR SELECT 'declared first' AS t;
  DECLARE two CURSOR WITH RETURN FOR SELECT 'opened first' AS t;
  OPEN two;
  OPEN one;
END;
CALL p();
--> value 'opened first'
--# case SIGNAL of class 01 or 02 that nobody handles goes on
CREATE PROCEDURE p() BEGIN SIGNAL SQLSTATE '01001'; SIGNAL SQLSTATE '02001'; CALL note('went on'); END;
CALL p();
--> note 'went on'
--# case an OUT argument that is NULL, into variables of other types
CREATE PROCEDURE gives_null(OUT a INTEGER, INOUT b DECIMAL(4,1), OUT c VARCHAR(9)) BEGIN SET a = NULL; SET b = NULL; END;
CREATE PROCEDURE takes_null()
BEGIN
  DECLARE s SMALLINT DEFAULT 1;
  DECLARE n INTEGER DEFAULT 2;
  DECLARE t CHAR(3) DEFAULT 'x';
  CALL gives_null(s, n, t);
  CALL note(COALESCE(CAST(s + 1 AS VARCHAR(9)), 'no s') || ', ' || COALESCE(CAST(n * 2 AS VARCHAR(9)), 'no n') || ', ' || COALESCE(t || 'y', 'no t'));
  IF s IS NULL AND n IS NULL AND t IS NULL THEN CALL note('all'); END IF;
END;
CALL takes_null();
--> note 'no s, no n, no t'
--> note 'all'
--# case codes of what has been executed as a text
CREATE TABLE texts (no INTEGER PRIMARY KEY, text VARCHAR(200));
INSERT INTO texts VALUES (1, 'CREATE TABLE made (n INTEGER)'), (2, 'CREATE TRIGGER tr AFTER INSERT ON made FOR EACH ROW CALL note(''in'')'),
  (3, 'INSERT INTO made VALUES (1)'), (4, 'UPDATE made SET n = 2'), (5, 'DELETE FROM made'), (6, 'CREATE VIEW seen_made AS SELECT n FROM made'),
  (7, 'ALTER TABLE made ADD COLUMN m INTEGER'), (8, 'DROP VIEW seen_made'), (9, 'DROP TRIGGER tr'), (10, 'CREATE SEQUENCE sq'), (11, 'DROP SEQUENCE sq'),
  (12, 'CREATE DOMAIN dm AS INTEGER'), (13, 'DROP DOMAIN dm'), (14, 'CREATE TYPE ty AS INTEGER'), (15, 'DROP TYPE ty'), (16, 'TRUNCATE TABLE made'),
  (17, 'CREATE PROCEDURE pr() CALL note(''x'')'), (18, 'CREATE FUNCTION fn() RETURNS INTEGER RETURN 1'), (19, 'CREATE SCHEMA sc'), (20, 'DROP SCHEMA sc'), (21, 'DROP TABLE made');
CREATE PROCEDURE codes(OUT c VARCHAR(400))
BEGIN
  DECLARE n INTEGER;
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET c = c || ' !';
  SET c = '';
  FOR one AS SELECT no, text FROM texts ORDER BY no DO
    EXECUTE IMMEDIATE one.text;
    GET DIAGNOSTICS n = DYNAMIC_FUNCTION_CODE;
    SET c = c || ' ' || CAST(n AS VARCHAR(5));
  END FOR;
END;
CALL codes(?);
--> value c = ' 77 80 50 82 19 84 4 36 34 133 135 23 27 83 35 136 14 14 64 31 32'
