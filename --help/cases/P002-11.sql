--# case P002-11 4/13.12 REPEAT tests behind each round
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER BEGIN DECLARE i INTEGER DEFAULT 0; REPEAT SET i = i + 1; UNTIL i >= n OR n IS NULL END REPEAT; RETURN i; END;
SELECT f(3), f(0), f(NULL);
--> rows
-->   3 | 1 | 1
CREATE PROCEDURE p() REPEAT CALL note('x'); UNTIL 'x' END REPEAT;
--> fails 42804
--# case P002-11 4/13.12 REPEAT runs at least once, and goes on while unknown
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER BEGIN DECLARE i INTEGER DEFAULT 0; REPEAT SET i = i + 1; UNTIL i >= n OR i = 5 END REPEAT; RETURN i; END;
SELECT f(0), f(3), f(NULL);
--> rows
-->   1 | 3 | 5