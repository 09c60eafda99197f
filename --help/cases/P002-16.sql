--# case P002-16 11.60 a control statement alone as the body of a routine
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER IF n > 1 THEN RETURN n; ELSE RETURN 1; END IF;
CREATE PROCEDURE p(INOUT n INTEGER) SET n = n + 1;
SELECT f(5), f(NULL);
--> rows
-->   5 | 1
CALL p(NULL);
--> value NULL
CREATE FUNCTION g() RETURNS INTEGER WHILE TRUE DO RETURN 'x'; END WHILE;
--> fails 42804
--# case P002-16 16.2 RETURN with a value stands in a function
CREATE PROCEDURE p() RETURN 1;
--> fails 42601
--# case P002-16 13.5 a query in a routine goes somewhere
CREATE PROCEDURE p() SELECT a FROM pair;
--> fails 42612