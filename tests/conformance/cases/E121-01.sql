-- E121-01 Basic cursor support: DECLARE CURSOR
--# case DECLARE CURSOR: its query sees the variables as they are at OPEN
CREATE FUNCTION first_above(low INTEGER) RETURNS INTEGER BEGIN
  DECLARE found INTEGER;
  DECLARE c CURSOR FOR SELECT b FROM pair WHERE b > low ORDER BY b;
  SET low = low + 5;
  OPEN c;
  FETCH c INTO found;
  CLOSE c;
  RETURN found;
END;
SELECT first_above(6), first_above(17), first_above(NULL);
--> rows
-->   20 | 30 | NULL
CREATE PROCEDURE twice() BEGIN DECLARE c CURSOR FOR SELECT 1; DECLARE c CURSOR FOR SELECT 2; END;
--> fails 42701
