-- P004 Extended CASE statement
--# case the CASE statement with general operands and nested cases
CREATE FUNCTION f(a INTEGER, b INTEGER) RETURNS VARCHAR(10) BEGIN
  CASE a + b WHEN (SELECT MAX(a) FROM pair) THEN CASE WHEN a > b THEN RETURN 'a'; ELSE RETURN 'b'; END CASE; ELSE RETURN 'other'; END CASE;
END;
SELECT f(2, 1), f(1, 2), f(NULL, 3);
--> rows
-->   'a' | 'b' | 'other'
CREATE FUNCTION g(a INTEGER) RETURNS INTEGER CASE a WHEN 'x' THEN RETURN 1; END CASE;
--> fails 42804
