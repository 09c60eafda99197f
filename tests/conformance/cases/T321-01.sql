-- T321-01 Basic SQL-invoked routines: User-defined functions with no overloading
--# case stored functions
CREATE FUNCTION greet(name VARCHAR(30)) RETURNS VARCHAR(60) RETURN 'Good day, ' || name;
SELECT greet(name) FROM guest WHERE id = 101;
--> value 'Good day, Ilva'
SELECT greet(NULL);
--> value NULL
CREATE FUNCTION greet(name VARCHAR(30)) RETURNS VARCHAR(60) RETURN name;
--> fails 42710
CREATE FUNCTION wrong() RETURNS DATE RETURN 1;
--> fails 42804
