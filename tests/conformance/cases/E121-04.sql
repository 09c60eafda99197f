-- E121-04 Basic cursor support: OPEN statement
--# case OPEN twice is a wrong state
CREATE PROCEDURE p() BEGIN DECLARE c CURSOR FOR SELECT 1; OPEN c; OPEN c; END;
CALL p();
--> fails 24000 in p
CREATE PROCEDURE q() BEGIN OPEN missing; END;
--> fails 42704
