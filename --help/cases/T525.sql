--# case T525 10.4 defaults for parameters of functions
CREATE FUNCTION f(a INTEGER, b INTEGER DEFAULT a_number()) RETURNS INTEGER RETURN a - b;
--> fails 42883
CREATE FUNCTION g(a INTEGER, b INTEGER DEFAULT 3 * 2) RETURNS INTEGER RETURN a - b;
SELECT g(10), g(10, 1), g(10, NULL), g(10, DEFAULT);
--> rows
-->   4 | 9 | NULL | 4
SELECT g();
--> fails 42884
--# case T525 10.4 defaults of a function's parameters
CREATE FUNCTION f(a INTEGER, b INTEGER DEFAULT 10) RETURNS INTEGER RETURN a + b;
SELECT f(1), f(1, 1), f(a => 5), f(b => 1, a => 1);
--> rows
-->   11 | 2 | 15 | 2