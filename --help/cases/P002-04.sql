--# case P002-04 4/13.4 variables start as their default, or as NULL
CREATE FUNCTION f(n INTEGER) RETURNS VARCHAR(40) BEGIN
  DECLARE a, b INTEGER DEFAULT n + 1;
  DECLARE c INTEGER;
  RETURN COALESCE(CAST(a + b AS VARCHAR(10)), 'null') || ' ' || COALESCE(CAST(c AS VARCHAR(10)), 'null');
END;
SELECT f(1), f(NULL);
--> rows
-->   '4 null' | 'null null'
CREATE PROCEDURE p() BEGIN DECLARE x INTEGER; DECLARE x DATE; END;
--> fails 42701
CREATE PROCEDURE q() BEGIN DECLARE x SMALLINT DEFAULT 40000; END;
CALL q();
--> fails 22003
--# case P002-04 4/13.4 several variables with one type and default; without a default NULL
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE a, b INTEGER DEFAULT 3; DECLARE c INTEGER; RETURN a + b + COALESCE(c, 10); END;
SELECT f();
--> value 16
--# case P002-04 4/13.4 a default may use variables declared before it
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER BEGIN DECLARE a INTEGER DEFAULT n * 2; DECLARE b INTEGER DEFAULT a + 1; RETURN b; END;
SELECT f(3), f(NULL);
--> rows
-->   7 | NULL
--# case P002-04 4/13.4 a default is computed each time the block is entered
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE i, total INTEGER DEFAULT 0; WHILE i < 3 DO BEGIN DECLARE t INTEGER DEFAULT 10; SET t = t + i; SET total = total + t; END; SET i = i + 1; END WHILE; RETURN total; END;
SELECT f();
--> value 33
--# case P002-04 4/13.4 a default that does not fit is a condition
BEGIN DECLARE t VARCHAR(2) DEFAULT 'abc'; END;
--> fails 22001