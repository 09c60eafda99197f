-- T321 Basic SQL-invoked routines
--# case functions and procedures
CREATE FUNCTION twice(n INTEGER) RETURNS INTEGER RETURN n * 2;
CREATE PROCEDURE store(IN n INTEGER) INSERT INTO pair VALUES (n, twice(n));
CALL store(21);
--> change pair +1
SELECT twice(b), twice(NULL) FROM pair WHERE a = 21;
--> rows
-->   84 | NULL
SELECT twice('x');
--> fails 42884
