-- T321-05 Basic SQL-invoked routines: RETURN statement
--# case RETURN ends a function with its value
CREATE FUNCTION sign_of(n INTEGER) RETURNS VARCHAR(5) BEGIN IF n > 0 THEN RETURN 'above'; ELSEIF n < 0 THEN RETURN 'below'; END IF; RETURN 'none'; END;
SELECT sign_of(5), sign_of(-5), sign_of(0), sign_of(NULL);
--> rows
-->   'above' | 'below' | 'none' | 'none'
CREATE FUNCTION never() RETURNS INTEGER BEGIN IF 1 = 0 THEN RETURN 1; END IF; END;
SELECT never();
--> fails 2F005
RETURN 1;
--> fails 42612
