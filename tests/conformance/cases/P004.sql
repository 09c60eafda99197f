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

--# case tests of the operand in the CASE statement
CREATE FUNCTION size_of(n INTEGER) RETURNS VARCHAR(10) BEGIN
  CASE n * 2 WHEN < 0, > 100 THEN RETURN 'far'; WHEN IS NULL THEN RETURN 'none'; WHEN NOT BETWEEN 10 AND 20 THEN RETURN 'small'; WHEN 14 THEN RETURN 'seven'; END CASE;
  RETURN 'never';
END;
SELECT size_of(-1), size_of(51), size_of(NULL), size_of(1), size_of(7);
--> rows
-->   'far' | 'far' | 'none' | 'small' | 'seven'
SELECT size_of(8);
--> fails 20000
