-- P002-03 Computational completeness: condition declaration
--# case conditions with and without a state
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
