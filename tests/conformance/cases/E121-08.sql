-- E121-08 Basic cursor support: CLOSE statement
--# case CLOSE of a cursor that is not open is a wrong state
CREATE PROCEDURE p() BEGIN DECLARE c CURSOR FOR SELECT 1; OPEN c; CLOSE c; CLOSE c; END;
CALL p();
--> fails 24000 in p
CREATE FUNCTION again() RETURNS INTEGER BEGIN DECLARE x INTEGER; DECLARE c CURSOR FOR SELECT 4; OPEN c; CLOSE c; OPEN c; FETCH c INTO x; RETURN x; END;
SELECT again();
--> value 4
