-- P002-07 Computational completeness: IF statement
--# case IF takes unknown as false
CREATE FUNCTION f(n INTEGER) RETURNS VARCHAR(10) BEGIN
  IF n > 0 THEN RETURN 'above'; ELSEIF n = 0 THEN RETURN 'zero'; ELSE RETURN 'else'; END IF;
END;
SELECT f(1), f(0), f(-1), f(NULL);
--> rows
-->   'above' | 'zero' | 'else' | 'else'
CREATE PROCEDURE p() IF 1 THEN CALL note('x'); END IF;
--> fails 42804
