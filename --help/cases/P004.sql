--# case P004 4/13.6 the CASE statement with general operands and nested cases
CREATE FUNCTION f(a INTEGER, b INTEGER) RETURNS VARCHAR(10) BEGIN
  CASE a + b WHEN (SELECT MAX(a) FROM pair) THEN CASE WHEN a > b THEN RETURN 'a'; ELSE RETURN 'b'; END CASE; ELSE RETURN 'other'; END CASE;
END;
SELECT f(2, 1), f(1, 2), f(NULL, 3);
--> rows
-->   'a' | 'b' | 'other'
CREATE FUNCTION g(a INTEGER) RETURNS INTEGER CASE a WHEN 'x' THEN RETURN 1; END CASE;
--> fails 42804
--# case P004 4/13.6 tests of the operand in the CASE statement
CREATE FUNCTION size_of(n INTEGER) RETURNS VARCHAR(10) BEGIN
  CASE n * 2 WHEN < 0, > 100 THEN RETURN 'far'; WHEN IS NULL THEN RETURN 'none'; WHEN NOT BETWEEN 10 AND 20 THEN RETURN 'small'; WHEN 14 THEN RETURN 'seven'; END CASE;
  RETURN 'never';
END;
SELECT size_of(-1), size_of(51), size_of(NULL), size_of(1), size_of(7);
--> rows
-->   'far' | 'far' | 'none' | 'small' | 'seven'
SELECT size_of(8);
--> fails 20000
--# case P004 4/13.6 the operand is computed once
CREATE SEQUENCE s;
CREATE FUNCTION nxt() RETURNS BIGINT BEGIN DECLARE n BIGINT; SET n = NEXT VALUE FOR s; RETURN n; END;
CREATE FUNCTION f() RETURNS VARCHAR(9) BEGIN CASE nxt() WHEN 7 THEN RETURN 'seven'; WHEN 2 THEN RETURN 'two'; WHEN 1 THEN RETURN 'one'; ELSE RETURN 'else'; END CASE; END;
SELECT f();
--> value 'one'