-- T523 Default values for INOUT parameters of SQL-invoked procedures
--# case defaults for INOUT parameters of procedures
CREATE PROCEDURE p(INOUT n INTEGER DEFAULT 7) SET n = n + 1;
CALL p();
--> value 8
CALL p(1);
--> value 2
CALL p(NULL);
--> value NULL
CREATE PROCEDURE q(INOUT n INTEGER DEFAULT DATE '2031-01-01') BEGIN END;
--> fails 42804
