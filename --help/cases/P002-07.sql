--# case P002-07 4/13.7 IF takes unknown as false
CREATE FUNCTION f(n INTEGER) RETURNS VARCHAR(10) BEGIN
  IF n > 0 THEN RETURN 'above'; ELSEIF n = 0 THEN RETURN 'zero'; ELSE RETURN 'else'; END IF;
END;
SELECT f(1), f(0), f(-1), f(NULL);
--> rows
-->   'above' | 'zero' | 'else' | 'else'
CREATE PROCEDURE p() IF 1 THEN CALL note('x'); END IF;
--> fails 42804
--# case P002-07 4/13.7 unknown goes to ELSE, ELSEIF in order
CREATE FUNCTION f(n INTEGER) RETURNS VARCHAR(9) BEGIN IF n > 5 THEN RETURN 'big'; ELSEIF n > 2 THEN RETURN 'mid'; ELSEIF n IS NULL THEN RETURN 'none'; ELSE RETURN 'small'; END IF; END;
SELECT f(9), f(3), f(1), f(NULL);
--> rows
-->   'big' | 'mid' | 'small' | 'none'
--# case P002-07 4/13.7 the condition is a truth value
CREATE PROCEDURE p() IF 1 THEN CALL note('x'); END IF;
--> fails 42804