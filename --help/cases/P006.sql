--# case P006 4/13.5 several variables assigned at once
CREATE FUNCTION f(a INTEGER, b INTEGER) RETURNS VARCHAR(30) BEGIN
  DECLARE x, y INTEGER;
  SET (x, y) = (a, b);
  SET (x, y) = (y, x);
  RETURN CAST(x AS VARCHAR(10)) || ',' || CAST(y AS VARCHAR(10));
END;
SELECT f(1, 2), f(NULL, 2);
--> rows
-->   '2,1' | NULL
CREATE FUNCTION q() RETURNS INTEGER BEGIN DECLARE x, y INTEGER; SET (x, y) = (SELECT a, b FROM pair WHERE a = 1); RETURN x + y; END;
SELECT q();
--> value 11
CREATE PROCEDURE w() BEGIN DECLARE x, y INTEGER; SET (x, y) = (1, 2, 3); END;
--> fails 42601
--# case P006 4/13.5 several targets from one row, and of one query
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE x, y INTEGER; SET (x, y) = (SELECT a, b FROM pair WHERE a = 3); RETURN x + y; END;
SELECT f();
--> value 13