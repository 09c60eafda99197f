--# case P002-12 4/13.11 WHILE tests before each round
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER BEGIN DECLARE i INTEGER DEFAULT 0; WHILE i < n DO SET i = i + 1; END WHILE; RETURN i; END;
SELECT f(3), f(0), f(NULL);
--> rows
-->   3 | 0 | 0
CREATE PROCEDURE p() WHILE 1 DO CALL note('x'); END WHILE;
--> fails 42804
--# case P002-12 4/13.11 WHILE may run no round, unknown is none
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER BEGIN DECLARE i INTEGER DEFAULT 0; WHILE i < n DO SET i = i + 1; END WHILE; RETURN i; END;
SELECT f(0), f(3), f(NULL);
--> rows
-->   0 | 3 | 0