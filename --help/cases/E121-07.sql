--# case E121-07 14.8 positioned DELETE removes the row of the cursor
CREATE PROCEDURE drop_nulls() BEGIN
  FOR r AS c CURSOR FOR SELECT a, b FROM pair DO
    IF r.a IS NULL THEN DELETE FROM pair WHERE CURRENT OF c; END IF;
  END FOR;
END;
CALL drop_nulls();
--> change pair -2
CREATE PROCEDURE grouped() BEGIN DECLARE c CURSOR FOR SELECT COUNT(*) FROM pair; DELETE FROM pair WHERE CURRENT OF c; END;
--> fails 42828
--# case E121-07 14.8 the table must be that of the cursor
CREATE PROCEDURE p() BEGIN DECLARE c CURSOR FOR SELECT a FROM pair; DELETE FROM guest WHERE CURRENT OF c; END;
--> fails 42828