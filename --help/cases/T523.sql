--# case T523 10.4 defaults for INOUT parameters of procedures
CREATE PROCEDURE p(INOUT n INTEGER DEFAULT 7) SET n = n + 1;
CALL p();
--> value 8
CALL p(1);
--> value 2
CALL p(NULL);
--> value NULL
CREATE PROCEDURE q(INOUT n INTEGER DEFAULT DATE '2031-01-01') BEGIN END;
--> fails 42804
--# case T523 10.4 an INOUT parameter left out has its default, and gives nothing back
CREATE PROCEDURE p(INOUT n INTEGER DEFAULT 5, OUT m INTEGER) SET m = n * 2;
CALL p(m => ?);
--> value m = 10