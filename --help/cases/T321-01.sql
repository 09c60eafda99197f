--# case T321-01 10.4 stored functions
CREATE FUNCTION greet(name VARCHAR(30)) RETURNS VARCHAR(60) RETURN 'Good day, ' || name;
SELECT greet(name) FROM guest WHERE id = 101;
--> value 'Good day, Ilva'
SELECT greet(NULL);
--> value NULL
CREATE FUNCTION greet(name VARCHAR(30)) RETURNS VARCHAR(60) RETURN name;
--> fails 42710
CREATE FUNCTION wrong() RETURNS DATE RETURN 1;
--> fails 42804
--# case T321-01 11.60 a function without arguments, and one in another's body
CREATE FUNCTION one() RETURNS INTEGER RETURN 1;
CREATE FUNCTION two() RETURNS INTEGER RETURN one() + one();
SELECT two(), two() + one();
--> rows
-->   2 | 3
--# case T321-01 11.60 a parameter twice is refused
CREATE FUNCTION f(n INTEGER, n INTEGER) RETURNS INTEGER RETURN n;
--> fails 42701
--# case T321-01 11.60 a body that gives another type is refused
CREATE FUNCTION f() RETURNS DATE RETURN 1;
--> fails 42804