--# case P002-06 4/13.6 the CASE statement
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
--# case P002-06 4/13.6 no match and no ELSE is 20000
CREATE PROCEDURE p(n INTEGER) CASE n WHEN 1 THEN CALL note('one'); END CASE;
CALL p(1);
--> note 'one'
CALL p(2);
--> fails 20000
CALL p(NULL);
--> fails 20000
--# case P002-06 4/13.6 searched CASE takes the first that is true
CREATE FUNCTION f(n INTEGER) RETURNS VARCHAR(9) BEGIN CASE WHEN n > 10 THEN RETURN 'much'; WHEN n > 1 THEN RETURN 'some'; ELSE RETURN 'else'; END CASE; END;
SELECT f(11), f(2), f(1), f(NULL);
--> rows
-->   'much' | 'some' | 'else' | 'else'