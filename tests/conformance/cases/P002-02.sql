-- P002-02 Computational completeness: handler declaration
--# case handlers: the most specific of the innermost block
CREATE FUNCTION who(state CHAR(5)) RETURNS VARCHAR(20) BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '45001' RETURN 'outer state';
  BEGIN
    DECLARE EXIT HANDLER FOR SQLEXCEPTION RETURN 'inner general';
    DECLARE EXIT HANDLER FOR SQLSTATE '45002' RETURN 'inner state';
    DECLARE EXIT HANDLER FOR NOT FOUND RETURN 'inner not found';
    IF state = '45001' THEN SIGNAL SQLSTATE '45001'; END IF;
    IF state = '45002' THEN SIGNAL SQLSTATE '45002'; END IF;
    IF state = '02000' THEN SIGNAL SQLSTATE '02000'; END IF;
  END;
  RETURN 'none';
END;
SELECT who('45001'), who('45002'), who('02000'), who(NULL);
--> rows
-->   'inner general' | 'inner state' | 'inner not found' | 'none'
--# case CONTINUE goes on behind the statement
CREATE FUNCTION goes_on() RETURNS INTEGER BEGIN
  DECLARE n INTEGER DEFAULT 0;
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION SET n = n + 100;
  SET n = n + 1 / 0;
  SET n = n + 1;
  RETURN n;
END;
SELECT goes_on();
--> value 101
CREATE PROCEDURE p() BEGIN DECLARE EXIT HANDLER FOR missing BEGIN END; END;
--> fails 42704
