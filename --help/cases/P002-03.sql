--# case P002-03 4/13.3 conditions with and without a state
CREATE PROCEDURE p(IN which INTEGER, OUT told VARCHAR(20)) BEGIN
  DECLARE no_bunk CONDITION FOR SQLSTATE '45010';
  DECLARE closed CONDITION;
  DECLARE EXIT HANDLER FOR no_bunk SET told = 'full';
  DECLARE EXIT HANDLER FOR closed SET told = 'closed';
  IF which = 1 THEN SIGNAL no_bunk; END IF;
  IF which = 2 THEN SIGNAL closed; END IF;
  SET told = 'neither';
END;
CALL p(1, ?);
--> value 'full'
CALL p(2, ?);
--> value 'closed'
CALL p(NULL, ?);
--> value 'neither'
CREATE PROCEDURE q() BEGIN DECLARE c CONDITION FOR SQLSTATE '0000'; END;
--> fails 42601
--# case P002-03 4/13.3 a condition's name stands for its state, in its block
CREATE FUNCTION f() RETURNS VARCHAR(9) BEGIN DECLARE nought CONDITION FOR SQLSTATE '22012'; DECLARE x INTEGER; DECLARE EXIT HANDLER FOR nought RETURN 'nought'; SET x = 1 / 0; RETURN 'none'; END;
SELECT f();
--> value 'nought'
--# case P002-03 4/13.3 one name twice in a block is refused
CREATE PROCEDURE p() BEGIN DECLARE c CONDITION; DECLARE c CONDITION; END;
--> fails 42701
--# case P002-03 4/13.3 no condition for success
CREATE PROCEDURE p() BEGIN DECLARE c CONDITION FOR SQLSTATE '00000'; END;
--> fails 42601