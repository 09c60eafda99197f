--# case E121-01 14.1 DECLARE CURSOR: its query sees the variables as they are at OPEN
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
--# case E121-01 14.1 each call has a cursor of its own
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER BEGIN DECLARE x INTEGER DEFAULT 0; DECLARE c CURSOR FOR SELECT id FROM guest WHERE id > 100 + n ORDER BY id; OPEN c; FETCH c INTO x; RETURN CASE WHEN n >= 3 THEN x ELSE x + f(n + 1) END; END;
SELECT f(0);
--> value 410
--# case E121-01 14.1 a cursor that its block leaves open is closed with it
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE i, x INTEGER DEFAULT 0; WHILE i < 3 DO BEGIN DECLARE c CURSOR FOR SELECT a FROM pair WHERE a = 3; OPEN c; FETCH c INTO x; SET i = i + 1; END; END WHILE; RETURN x + i; END;
SELECT f();
--> value 6