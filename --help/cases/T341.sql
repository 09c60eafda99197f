--# case T341 10.4 overloading by the types of arguments
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
--# case T341 10.4 the routine whose parameters fit best is taken
CREATE FUNCTION kind(n INTEGER) RETURNS VARCHAR(9) RETURN 'integer';
CREATE FUNCTION kind(n DECIMAL(9,2)) RETURNS VARCHAR(9) RETURN 'decimal';
CREATE FUNCTION kind(n VARCHAR(9)) RETURNS VARCHAR(9) RETURN 'text';
CREATE FUNCTION kind(n INTEGER, m INTEGER) RETURNS VARCHAR(9) RETURN 'two';
SELECT kind(1), kind(1.5), kind('a'), kind(1, 2), kind(CAST(1 AS SMALLINT));
--> rows
-->   'integer' | 'decimal' | 'text' | 'two' | 'integer'
SELECT kind(DATE '2031-01-01');
--> fails 42884
--# case T341 10.4 the same parameters again are refused
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER RETURN 1;
CREATE FUNCTION f(m INTEGER) RETURNS DATE RETURN NULL;
--> fails 42710