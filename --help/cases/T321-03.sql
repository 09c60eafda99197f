--# case T321-03 10.4 functions are called where values stand
CREATE FUNCTION half(n INTEGER) RETURNS INTEGER RETURN n / 2;
SELECT half(b) FROM pair WHERE half(b) > 5 GROUP BY half(b) ORDER BY half(b);
--> rows
-->   10
-->   15
SELECT half(half(20)), half(NULL);
--> rows
-->   5 | NULL
SELECT halve(4);
--> fails 42883
SELECT half(1, 2);
--> fails 42884
--# case T321-03 10.4 arguments are computed from left to right, each once
CREATE SEQUENCE s;
CREATE TABLE log (n BIGINT);
CREATE FUNCTION next_one() RETURNS BIGINT MODIFIES SQL DATA BEGIN DECLARE n BIGINT; SET n = NEXT VALUE FOR s; INSERT INTO log VALUES (n); RETURN n; END;
CREATE FUNCTION minus(a BIGINT, b BIGINT) RETURNS BIGINT RETURN a - b;
SELECT minus(next_one(), next_one());
--> value -1
SELECT COUNT(*) FROM log;
--> value 2
--# case T321-03 10.4 too many and too few arguments are refused
SELECT ABS(1, 2);
--> fails 42884
--# case T321-03 10.4 a procedure is no value
CREATE PROCEDURE p(n INTEGER) CALL note('x');
SELECT p(1);
--> fails 42809