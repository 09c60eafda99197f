-- P002-04 Computational completeness: SQL variable declaration
--# case variables start as their default, or as NULL
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
