-- P002-09 Computational completeness: LEAVE statement
--# case LEAVE leaves loops and blocks
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
