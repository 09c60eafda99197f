--# case T524 10.4 named arguments of functions
CREATE FUNCTION f(a INTEGER, b INTEGER) RETURNS INTEGER RETURN a - b;
SELECT f(b => 1, a => 10), f(10, b => NULL);
--> rows
-->   9 | NULL
SELECT f(c => 1, a => 2);
--> fails 42884
--# case T524 10.4 named arguments of a function, also inside a query
CREATE FUNCTION minus(a INTEGER, b INTEGER) RETURNS INTEGER RETURN a - b;
SELECT minus(b => id, a => 200) FROM guest WHERE minus(id, b => 100) = 3;
--> value 97