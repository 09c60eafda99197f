-- T341 Overloading of SQL-invoked functions and procedures
--# case overloading by the types of arguments
CREATE FUNCTION told(x INTEGER) RETURNS VARCHAR(20) RETURN 'integer';
CREATE FUNCTION told(x VARCHAR(10)) RETURNS VARCHAR(20) RETURN 'text';
CREATE FUNCTION told(x INTEGER, y INTEGER) RETURNS VARCHAR(20) RETURN 'two';
SELECT told(1), told('1'), told(1, NULL);
--> rows
-->   'integer' | 'text' | 'two'
SELECT told(DATE '2031-01-01');
--> fails 42884
DROP FUNCTION told;
--> fails 42725
DROP FUNCTION told(INTEGER);
SELECT told(1);
--> fails 42884
