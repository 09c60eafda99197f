-- P002-10 Computational completeness: LOOP statement
--# case LOOP
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER BEGIN DECLARE i INTEGER DEFAULT 0; l: LOOP IF n IS NULL OR i >= n THEN LEAVE l; END IF; SET i = i + 1; END LOOP; RETURN i; END;
SELECT f(3), f(NULL);
--> rows
-->   3 | 0
CREATE PROCEDURE p() LOOP SET x = 1; END LOOP;
--> fails 42703
