-- T524 Named arguments in routine invocations other than a CALL statement
--# case named arguments of functions
CREATE FUNCTION f(a INTEGER, b INTEGER) RETURNS INTEGER RETURN a - b;
SELECT f(b => 1, a => 10), f(10, b => NULL);
--> rows
-->   9 | NULL
SELECT f(c => 1, a => 2);
--> fails 42884
