--# case P008 4/13.6 several values in one WHEN of a CASE statement
CREATE FUNCTION f(n INTEGER) RETURNS VARCHAR(10) BEGIN CASE n WHEN 1, 2, 3 THEN RETURN 'few'; WHEN 4, NULL THEN RETURN 'four'; ELSE RETURN 'many'; END CASE; END;
SELECT f(2), f(4), f(9), f(NULL);
--> rows
-->   'few' | 'four' | 'many' | 'many'
CREATE FUNCTION g(n INTEGER) RETURNS INTEGER CASE n WHEN 1, 'x' THEN RETURN 1; END CASE;
--> fails 42804
--# case P008 4/13.6 several values in a WHEN of the statement
CREATE FUNCTION f(n INTEGER) RETURNS VARCHAR(9) BEGIN CASE n WHEN 1, 2 THEN RETURN 'low'; WHEN 3, NULL THEN RETURN 'high'; ELSE RETURN 'else'; END CASE; END;
SELECT f(2), f(3), f(4), f(NULL);
--> rows
-->   'low' | 'high' | 'else' | 'else'