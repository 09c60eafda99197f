--# case E121-04 14.4 OPEN twice is a wrong state
CREATE PROCEDURE p() BEGIN DECLARE c CURSOR FOR SELECT 1; OPEN c; OPEN c; END;
CALL p();
--> fails 24000 in p
CREATE PROCEDURE q() BEGIN OPEN missing; END;
--> fails 42704
--# case E121-04 14.4 OPEN computes the query with the variables of that moment, again after CLOSE
CREATE FUNCTION f() RETURNS VARCHAR(20) BEGIN DECLARE n INTEGER DEFAULT 101; DECLARE t VARCHAR(20) DEFAULT ''; DECLARE x VARCHAR(9); DECLARE c CURSOR FOR SELECT name FROM guest WHERE id = n; OPEN c; SET n = 104; FETCH c INTO x; SET t = x; CLOSE c; OPEN c; FETCH c INTO x; RETURN t || x; END;
SELECT f();
--> value 'IlvaTove'