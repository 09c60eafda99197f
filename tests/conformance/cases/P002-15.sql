-- P002-15 Computational completeness: RESIGNAL statement
--# case RESIGNAL passes the condition on, changed or not
CREATE PROCEDURE p(IN how INTEGER) BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN
    IF how = 1 THEN RESIGNAL; END IF;
    IF how = 2 THEN RESIGNAL SQLSTATE '45031' SET MESSAGE_TEXT = 'changed'; END IF;
    CALL note('kept');
  END;
  SIGNAL SQLSTATE '45030' SET MESSAGE_TEXT = 'first';
END;
CALL p(1);
--> fails 45030 like 'first'
CALL p(2);
--> fails 45031 like 'changed'
CALL p(NULL);
--> note 'kept'
CREATE PROCEDURE q() RESIGNAL;
CALL q();
--> fails 0K000
