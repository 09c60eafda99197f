-- P002-16 Computational completeness: control statements as the body of an SQL routine
--# case a control statement alone as the body of a routine
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER IF n > 1 THEN RETURN n; ELSE RETURN 1; END IF;
CREATE PROCEDURE p(INOUT n INTEGER) SET n = n + 1;
SELECT f(5), f(NULL);
--> rows
-->   5 | 1
CALL p(NULL);
--> value NULL
CREATE FUNCTION g() RETURNS INTEGER WHILE TRUE DO RETURN 'x'; END WHILE;
--> fails 42804
