--# case P002-01 4/13.1 compound statements nest, and a name inside hides one outside
CREATE FUNCTION hide() RETURNS VARCHAR(20) outer_block: BEGIN
  DECLARE x VARCHAR(10) DEFAULT 'out';
  inner_block: BEGIN
    DECLARE x VARCHAR(10) DEFAULT 'in';
    SET outer_block.x = x || outer_block.x;
  END inner_block;
  RETURN x;
END outer_block;
SELECT hide();
--> value 'inout'
--# case P002-01 4/13.1 an atomic block takes back what it did
CREATE PROCEDURE p() BEGIN ATOMIC INSERT INTO pair VALUES (90, NULL); SIGNAL SQLSTATE '45001'; END;
CALL p();
--> fails 45001
--> no change
CREATE PROCEDURE q() a: BEGIN END b;
--> fails 42601
--# case P002-01 4/13.1 a variable of an inner block hides that of the outer one, and is gone with its block
BEGIN DECLARE n INTEGER DEFAULT 1; BEGIN DECLARE n INTEGER DEFAULT 2; CALL note(CAST(n AS VARCHAR(3))); END; CALL note(CAST(n AS VARCHAR(3))); END;
--> note '2'
--> note '1'
--# case P002-01 4/13.1 a label names its block's variables
outer_one: BEGIN DECLARE n INTEGER DEFAULT 1; BEGIN DECLARE n INTEGER DEFAULT 2; CALL note(CAST(outer_one.n AS VARCHAR(3))); END; END;
--> note '1'
--# case P002-01 4/13.1 the label at the end must be that of the beginning
CREATE PROCEDURE p() a: BEGIN END b;
--> fails 42601
--# case P002-01 4/13.1 declarations come before statements
CREATE PROCEDURE p() BEGIN SET x = 1; DECLARE x INTEGER; END;
--> fails 42601
--# case P002-01 4/13.1 ATOMIC undoes all it did when an exception leaves it
CREATE PROCEDURE p() BEGIN ATOMIC UPDATE pair SET b = 0; SIGNAL SQLSTATE '45000'; END;
CREATE PROCEDURE q() BEGIN UPDATE pair SET b = 0; SIGNAL SQLSTATE '45000'; END;
CALL p();
--> fails 45000
SELECT SUM(b) FROM pair;
--> value 70
CALL q();
--> fails 45000
SELECT SUM(b) FROM pair;
--> value 0
--# case P002-01 4/13.1 an ATOMIC block inside of another undoes its own part alone
CREATE PROCEDURE p() BEGIN ATOMIC
  DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' BEGIN END;
  UPDATE pair SET b = 1 WHERE a = 1;
  BEGIN ATOMIC DECLARE EXIT HANDLER FOR SQLSTATE '45002' BEGIN END; UPDATE pair SET b = 2 WHERE a = 3; SIGNAL SQLSTATE '45002'; END;
  INSERT INTO pair VALUES (80, 80);
END;
CALL p();
--> change pair +1 ~2
--# case P002-01 4/13.1 no COMMIT or ROLLBACK inside ATOMIC, through a call neither
CREATE PROCEDURE q() COMMIT;
CREATE PROCEDURE p() BEGIN ATOMIC CALL q(); END;
CALL p();
--> fails 2D000
--# case P002-01 4/13.1 a handler's variable is not seen outside
BEGIN DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN DECLARE z INTEGER; SET z = 1; END; SET z = 2; END;
--> fails 42703
--# case P002-01 17.7 a function ends no transaction
CREATE FUNCTION f() RETURNS INTEGER BEGIN COMMIT; RETURN 1; END;
--> fails 42612