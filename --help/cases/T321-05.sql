--# case T321-05 16.2 RETURN ends a function with its value
CREATE FUNCTION sign_of(n INTEGER) RETURNS VARCHAR(5) BEGIN IF n > 0 THEN RETURN 'above'; ELSEIF n < 0 THEN RETURN 'below'; END IF; RETURN 'none'; END;
SELECT sign_of(5), sign_of(-5), sign_of(0), sign_of(NULL);
--> rows
-->   'above' | 'below' | 'none' | 'none'
CREATE FUNCTION never() RETURNS INTEGER BEGIN IF 1 = 0 THEN RETURN 1; END IF; END;
SELECT never();
--> fails 2F005
RETURN 1;
--> fails 42612
--# case T321-05 16.2 RETURN converts to the type of the function
CREATE FUNCTION f() RETURNS CHAR(3) RETURN 'a';
CREATE FUNCTION g() RETURNS DECIMAL(5,1) RETURN 1.25;
SELECT f() || '|', g();
--> rows
-->   'a  |' | 1.3
--# case T321-05 16.2 what does not fit is a condition
CREATE FUNCTION f() RETURNS SMALLINT RETURN 40000;
SELECT f();
--> fails 22003