--# case T655 10.4 routines that call each other
CREATE FUNCTION is_odd(n INTEGER) RETURNS BOOLEAN RETURN NULL;
CREATE FUNCTION is_even(n INTEGER) RETURNS BOOLEAN RETURN CASE WHEN n = 0 THEN TRUE ELSE is_odd(n - 1) END;
CREATE OR REPLACE FUNCTION is_odd(n INTEGER) RETURNS BOOLEAN RETURN CASE WHEN n = 0 THEN FALSE ELSE is_even(n - 1) END;
SELECT is_even(10), is_odd(7), is_even(7);
--> rows
-->   TRUE | TRUE | FALSE
SELECT is_even(NULL);
--> fails 5B003
--# case T655 10.4 in one module they may come in any order
CREATE MODULE m
  DECLARE FUNCTION is_even(n INTEGER) RETURNS BOOLEAN RETURN CASE WHEN n <= 0 THEN n = 0 ELSE is_odd(n - 1) END;
  DECLARE FUNCTION is_odd(n INTEGER) RETURNS BOOLEAN RETURN CASE WHEN n <= 0 THEN n <> 0 ELSE is_even(n - 1) END;
END MODULE;
SELECT m.is_even(4), m.is_odd(4);
--> rows
-->   TRUE | FALSE