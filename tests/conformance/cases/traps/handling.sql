-- The diagnostics area, warnings, and handlers whose actions are blocks.
--# case conditions of completion, and nested handlers
CREATE TABLE t (a INTEGER PRIMARY KEY, s VARCHAR(5));
CREATE TABLE e (a INTEGER, s VARCHAR(5));
BEGIN DECLARE st VARCHAR(5); DECLARE n INTEGER;
 DELETE FROM t; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; CALL note(st);
 INSERT INTO t VALUES (1,'a'); GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; CALL note(st);
 SELECT s INTO st FROM t WHERE a = 2; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; CALL note(st);
 INSERT INTO t SELECT * FROM e; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; CALL note(st);
 SET n = 3; GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; CALL note(st);
 GET DIAGNOSTICS n = NUMBER; CALL note(CAST(n AS VARCHAR(3)));
END;
--> note '02000'
--> note '00000'
--> note '02000'
--> note '02000'
--> note '00000'
--> note '0'
--> change t +1
BEGIN DECLARE CONTINUE HANDLER FOR NOT FOUND CALL note('nf'); INSERT INTO t SELECT * FROM e; DELETE FROM t WHERE a = 99; MERGE INTO t USING e ON t.a = e.a WHEN MATCHED THEN DELETE; END;
--> note 'nf'
--> note 'nf'
--> note 'nf'
BEGIN DECLARE m VARCHAR(3); DECLARE CONTINUE HANDLER FOR SQLWARNING BEGIN DECLARE st VARCHAR(5); GET DIAGNOSTICS CONDITION 1 st = RETURNED_SQLSTATE; CALL note('w ' || st); END; SET m = CAST('abcdef' AS VARCHAR(3)); CALL note(m); END;
--> note 'w 01004'
--> note 'abc'
INSERT INTO e VALUES (NULL, 'x'), (1, 'y');
--> change e +2
BEGIN DECLARE m INTEGER; DECLARE CONTINUE HANDLER FOR SQLSTATE '01003' CALL note('nulls'); SELECT SUM(a) INTO m FROM e; CALL note(CAST(m AS VARCHAR(3))); SELECT COUNT(*) INTO m FROM e; END;
--> note 'nulls'
--> note '1'
CREATE PROCEDURE rs() BEGIN DECLARE c CURSOR WITH RETURN FOR SELECT * FROM t; OPEN c; END;
BEGIN DECLARE CONTINUE HANDLER FOR SQLSTATE '0100C' CALL note('results'); CALL rs(); END;
--> note 'results'
BEGIN DECLARE n INTEGER; DECLARE mo CHAR(1); DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN GET DIAGNOSTICS n = NUMBER, mo = MORE; CALL note(CAST(n AS VARCHAR(3)) || mo); GET DIAGNOSTICS CONDITION 2 mo = RETURNED_SQLSTATE; END; SET n = CHAR_LENGTH(CAST('abcdef' AS VARCHAR(3))) / 0; END;
--> fails 35000
--> note '2N'
CREATE FUNCTION hf(x INTEGER) RETURNS INTEGER BEGIN DECLARE y INTEGER DEFAULT 0; DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN SET y = y + 1; IF y > 2 THEN RETURN y * 100; END IF; END; SIGNAL SQLSTATE '45001'; SET x = x / 0; SET x = 1 / 0; RETURN -1; END;
SELECT hf(1);
--> value 300
BEGIN DECLARE i INTEGER DEFAULT 0; l: LOOP SET i = i + 1; BEGIN DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN CALL note('x' || CAST(i AS VARCHAR(3))); IF i > 3 THEN LEAVE l; ELSE ITERATE l; END IF; END; SET i = i / 0 ; CALL note('not here'); END; END LOOP; CALL note('done'); END;
--> note 'x1'
--> note 'x2'
--> note 'x3'
--> note 'x4'
--> note 'done'
BEGIN DECLARE i INTEGER DEFAULT 0; DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION CALL note('inner'); CALL note('outer'); SIGNAL SQLSTATE '45002'; END; IF i = 0 THEN SIGNAL SQLSTATE '45001'; ELSE SIGNAL SQLSTATE '45003'; END IF; END;
--> note 'outer'
--> note 'inner'
BEGIN DECLARE a INTEGER DEFAULT 1; DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' BEGIN DECLARE CONTINUE HANDLER FOR SQLSTATE '22012' SET a = a + 100; SET a = a + 1; SET a = a / 0; SET a = a + 1; END; SET a = 1 / 0; SET a = a * 10; SET a = 1/0; CALL note(CAST(a AS VARCHAR(9))); END;
--> note '1132'
--# case an action that raises what a handler around it takes, by setting a variable
CREATE TABLE r (id INTEGER PRIMARY KEY);
BEGIN
  DECLARE x INTEGER DEFAULT 1;
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '23000' SET x = 7;
    BEGIN
      DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' BEGIN
        INSERT INTO r VALUES (1); INSERT INTO r VALUES (1); CALL note(CAST(x AS VARCHAR(5)));
      END;
      SIGNAL SQLSTATE '45000';
    END;
  END;
  CALL note('end ' || CAST(x AS VARCHAR(5)));
END;
--> note '7'
--> note 'end 7'
--> change r +1
--# case jumps across several blocks and loops within an action
BEGIN
  DECLARE n INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' a: BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET n = n + 100;
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45009' SET n = n + 1000;
    l: LOOP
      SET n = n + 1;
      m: LOOP
        IF n > 2 THEN LEAVE a; END IF;
        IF n > 1 THEN ITERATE l; END IF;
        LEAVE m;
      END LOOP;
      BEGIN
        DECLARE CONTINUE HANDLER FOR SQLSTATE '45002' SIGNAL SQLSTATE '45001';
        IF n = 5 THEN SIGNAL SQLSTATE '45002'; END IF;
        IF n = 1 THEN SIGNAL SQLSTATE '45009'; END IF;
      END;
    END LOOP;
  END;
  SIGNAL SQLSTATE '45000';
  CALL note(CAST(n AS VARCHAR(9)));
  SET n = 0;
  SIGNAL SQLSTATE '45000';
  CALL note(CAST(n AS VARCHAR(9)));
END;
--> note '1002'
--> note '1002'
--# case actions that raise what a block further out takes, with loops and variables of their own
CREATE TABLE r (id INTEGER PRIMARY KEY);
BEGIN
  DECLARE n, k INTEGER DEFAULT 0;
  o: BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '23000' BEGIN
      DECLARE z INTEGER DEFAULT 5;
      FOR f AS SELECT id FROM r DO SET k = k + f.id + z; END FOR;
    END;
    BEGIN
      DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' BEGIN
        DECLARE w INTEGER DEFAULT 1;
        INSERT INTO r VALUES (w);
        INSERT INTO r VALUES (w);
        SET n = n + 1;
      END;
      SIGNAL SQLSTATE '45000';
      SET n = 99;
    END;
  END;
  CALL note(CAST(n AS VARCHAR(5)) || ' ' || CAST(k AS VARCHAR(5)));
END;
--> note '0 6'
--> change r +1
CREATE FUNCTION fx(a INTEGER) RETURNS INTEGER BEGIN
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45000' BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' RETURN a + 10;
    IF a > 1 THEN SIGNAL SQLSTATE '45001'; END IF;
    SET a = a + 1;
  END;
  SIGNAL SQLSTATE '45000';
  RETURN a;
END;
SELECT fx(0), fx(1), fx(2), fx(NULL);
--> rows
-->   1 | 2 | 12 | NULL
--# case what a handler left behind when it failed itself is no longer there
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45000' SIGNAL SQLSTATE '45001';
  SIGNAL SQLSTATE '45000';
END;
--> fails 45001
BEGIN
  DECLARE s CHAR(5);
  GET STACKED DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE;
END;
--> fails 0Z002
--# case all that is known of a condition
CREATE TABLE known (a INTEGER NOT NULL, CONSTRAINT positive CHECK (a > 0));
CREATE PROCEDURE told(IN n INTEGER, OUT said VARCHAR(2000)) BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET STACKED DIAGNOSTICS said = ALL CONDITION;
  INSERT INTO known VALUES (n);
END;
CALL told(NULL, ?);
--> value said = 'RETURNED_SQLSTATE=23502; CLASS_ORIGIN=ISO 9075; SUBCLASS_ORIGIN=Glimb; MESSAGE_TEXT=known.a may not be NULL; TABLE_NAME=known; COLUMN_NAME=a'
CALL told(-1, ?);
--> value said = 'RETURNED_SQLSTATE=23514; CLASS_ORIGIN=ISO 9075; SUBCLASS_ORIGIN=Glimb; MESSAGE_TEXT=known does not meet CHECK (a > 0) (positive); TABLE_NAME=known; CONSTRAINT_NAME=positive'
--# case how many rows SELECT INTO has found
CREATE TABLE three (n INTEGER);
INSERT INTO three VALUES (1), (2), (3);
--> change three +3
CREATE PROCEDURE counted(IN which INTEGER, OUT found INTEGER) BEGIN
  DECLARE v INTEGER;
  UPDATE three SET n = n + 0;
  SELECT n INTO v FROM three WHERE n = which;
  GET DIAGNOSTICS found = ROW_COUNT;
END;
CALL counted(2, ?);
--> value found = 1
CALL counted(7, ?);
--> value found = 0
--# case a cursor that is open already is told where it is opened again
CREATE PROCEDURE opened() BEGIN
  DECLARE c CURSOR FOR VALUES 1, 2;
  OPEN c;
  --@ second
  OPEN c;
END;
CALL opened();
--> fails 24000 in opened at second
CREATE PROCEDURE told_of_text(OUT said VARCHAR(2000)) BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION GET STACKED DIAGNOSTICS said = ALL CONDITION;
  EXECUTE IMMEDIATE 'SELEC';
END;
CALL told_of_text(?);
--> value said = 'RETURNED_SQLSTATE=42601; CLASS_ORIGIN=ISO 9075; SUBCLASS_ORIGIN=Glimb; MESSAGE_TEXT=found `SELEC` where a statement could stand (did you mean select?), line 1 column 1'
--# case the conditions of one routine are not those of the next at the same depth
CREATE TABLE two (x VARCHAR(2));
INSERT INTO two VALUES ('ab'), (NULL);
--> change two +2
CREATE PROCEDURE leaves() BEGIN DECLARE s VARCHAR(9); DECLARE m CHAR(1);
  SELECT MAX(CAST(x AS VARCHAR(1))) INTO s FROM two; GET DIAGNOSTICS m = MORE; CALL note(m);
  SET s = 'a'; GET DIAGNOSTICS m = MORE; CALL note(m);
  SELECT MAX(CAST(x AS VARCHAR(1))) INTO s FROM two;
END;
CREATE FUNCTION asks() RETURNS VARCHAR(9) BEGIN
  DECLARE n INTEGER; DECLARE m CHAR(1);
  GET DIAGNOSTICS n = NUMBER, m = MORE;
  RETURN CAST(n AS VARCHAR(5)) || m;
END;
COMMIT;
SET TRANSACTION DIAGNOSTICS SIZE 1;
BEGIN CALL leaves(); CALL note(asks()); END;
--> note 'Y'
--> note 'N'
--> note '0N'
VALUES asks();
--> value '0N'
--# case each statement of a cursor that fails is taken by a handler, and the next one goes on
CREATE TABLE zeros (n INTEGER);
INSERT INTO zeros VALUES (0), (1);
--> change zeros +2
BEGIN
  DECLARE s CHAR(5);
  DECLARE v INTEGER;
  DECLARE c CURSOR FOR SELECT 1 / n FROM zeros ORDER BY n;
  DECLARE k CURSOR FOR SELECT n FROM zeros ORDER BY n;
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE; CALL note(s); END;
  FETCH k INTO v;
  CLOSE k;
  OPEN k;
  OPEN k;
  FETCH k INTO v;
  CALL note(CAST(v AS VARCHAR(5)));
  CLOSE k;
  OPEN c;
  FETCH c INTO v;
  CALL note('end');
END;
--> note '24000'
--> note '24000'
--> note '24000'
--> note '0'
--> note '22012'
--> note '24000'
--> note 'end'
--# case the second handler of a block around is not taken for the first of the block within
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' CALL note('outer, first');
  DECLARE EXIT HANDLER FOR SQLSTATE '45002' CALL note('outer, second');
  BEGIN
    DECLARE CONTINUE HANDLER FOR SQLSTATE '45003' CALL note('inner');
    SIGNAL SQLSTATE '45003';
    SIGNAL SQLSTATE '45002';
    CALL note('not here');
  END;
END;
--> note 'inner'
--> note 'outer, second'
--> no other notes
