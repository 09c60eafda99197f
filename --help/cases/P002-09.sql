--# case P002-09 4/13.9 LEAVE leaves loops and blocks
CREATE FUNCTION first_above(low INTEGER) RETURNS INTEGER BEGIN
  DECLARE i INTEGER DEFAULT 0;
  outer_loop: LOOP
    LOOP
      SET i = i + 7;
      IF i > low OR low IS NULL THEN LEAVE outer_loop; END IF;
    END LOOP;
  END LOOP outer_loop;
  RETURN i;
END;
SELECT first_above(20), first_above(NULL);
--> rows
-->   21 | 7
CREATE PROCEDURE p() LOOP LEAVE away; END LOOP;
--> fails 42704
--# case P002-09 4/13.9 LEAVE leaves a block too, and runs nothing more of it
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE n INTEGER DEFAULT 1; a: BEGIN SET n = 2; LEAVE a; SET n = 3; END; RETURN n; END;
SELECT f();
--> value 2
--# case P002-09 4/13.9 LEAVE does not undo an ATOMIC block
CREATE PROCEDURE p() a: BEGIN ATOMIC UPDATE pair SET b = 0 WHERE a = 1; LEAVE a; END;
CALL p();
--> change pair ~1
--# case P002-09 4/13.9 an unknown label is refused
CREATE PROCEDURE p() a: LOOP LEAVE b; END LOOP;
--> fails 42704