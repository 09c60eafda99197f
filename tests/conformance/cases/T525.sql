-- T525 Default values for parameters of SQL-invoked functions
--# case defaults for parameters of functions
CREATE FUNCTION f(a INTEGER, b INTEGER DEFAULT a_number()) RETURNS INTEGER RETURN a - b;
--> fails 42883
CREATE FUNCTION g(a INTEGER, b INTEGER DEFAULT 3 * 2) RETURNS INTEGER RETURN a - b;
SELECT g(10), g(10, 1), g(10, NULL), g(10, DEFAULT);
--> rows
-->   4 | 9 | NULL | 4
SELECT g();
--> fails 42884
