-- P002-06 Computational completeness: CASE statement
--# case the CASE statement
CREATE FUNCTION f(n INTEGER) RETURNS VARCHAR(10) BEGIN
  CASE n WHEN 1 THEN RETURN 'one'; WHEN 2 THEN RETURN 'two'; ELSE RETURN 'many'; END CASE;
END;
SELECT f(1), f(2), f(3), f(NULL);
--> rows
-->   'one' | 'two' | 'many' | 'many'
CREATE PROCEDURE p(IN n INTEGER) CASE WHEN n > 5 THEN CALL note('above'); END CASE;
CALL p(6);
--> note 'above'
CALL p(NULL);
--> fails 20000
