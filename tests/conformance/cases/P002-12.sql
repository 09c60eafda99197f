-- P002-12 Computational completeness: WHILE statement
--# case WHILE tests before each round
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER BEGIN DECLARE i INTEGER DEFAULT 0; WHILE i < n DO SET i = i + 1; END WHILE; RETURN i; END;
SELECT f(3), f(0), f(NULL);
--> rows
-->   3 | 0 | 0
CREATE PROCEDURE p() WHILE 1 DO CALL note('x'); END WHILE;
--> fails 42804
