-- P002-05 Computational completeness: assignment statement
--# case assignment converts and checks
CREATE FUNCTION f(n DECIMAL(9,2)) RETURNS INTEGER BEGIN DECLARE i INTEGER; DECLARE t VARCHAR(3); SET i = n; SET t = 'abc   '; RETURN i + CHAR_LENGTH(t); END;
SELECT f(2.50), f(NULL);
--> rows
-->   6 | NULL
CREATE PROCEDURE p() BEGIN DECLARE t VARCHAR(3); SET t = 'abcd'; END;
CALL p();
--> fails 22001
CREATE PROCEDURE q() BEGIN DECLARE d DATE; SET d = 5; END;
--> fails 42804
