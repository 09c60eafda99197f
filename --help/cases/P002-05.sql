--# case P002-05 4/13.5 assignment converts and checks
CREATE FUNCTION f(n DECIMAL(9,2)) RETURNS INTEGER BEGIN DECLARE i INTEGER; DECLARE t VARCHAR(3); SET i = n; SET t = 'abc   '; RETURN i + CHAR_LENGTH(t); END;
SELECT f(2.50), f(NULL);
--> rows
-->   6 | NULL
CREATE PROCEDURE p() BEGIN DECLARE t VARCHAR(3); SET t = 'abcd'; END;
CALL p();
--> fails 22001
CREATE PROCEDURE q() BEGIN DECLARE d DATE; SET d = 5; END;
--> fails 42804
--# case P002-05 4/13.5 assignment converts as a column does
CREATE FUNCTION f(d DECIMAL(5,2)) RETURNS VARCHAR(9) BEGIN DECLARE n INTEGER; DECLARE c CHAR(3); SET n = d; SET c = 'x'; RETURN CAST(n AS VARCHAR(5)) || c || '|'; END;
SELECT f(2.5), f(-2.5), f(2.49);
--> rows
-->   '3x  |' | '-3x  |' | '2x  |'
--# case P002-05 4/13.5 a value that does not fit leaves the variable as it was
CREATE FUNCTION f() RETURNS VARCHAR(3) BEGIN DECLARE t VARCHAR(3) DEFAULT 'old'; DECLARE CONTINUE HANDLER FOR SQLSTATE '22001' BEGIN END; SET t = 'longer'; RETURN t; END;
SELECT f();
--> value 'old'
--# case P002-05 4/13.5 a row of variables is set from a row of one time
CREATE FUNCTION f() RETURNS VARCHAR(9) BEGIN DECLARE a INTEGER DEFAULT 1; DECLARE b INTEGER DEFAULT 2; SET (a, b) = (b, a); RETURN CAST(a AS VARCHAR(2)) || CAST(b AS VARCHAR(2)); END;
SELECT f();
--> value '21'
--# case P002-05 4/13.5 a subquery without a row sets NULL
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE n INTEGER DEFAULT 1; SET n = (SELECT a FROM pair WHERE a > 9); RETURN n; END;
SELECT f();
--> value NULL