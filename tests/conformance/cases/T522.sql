-- T522 Default values for IN parameters of SQL-invoked procedures
--# case defaults for IN parameters of procedures
CREATE PROCEDURE p(IN a INTEGER, IN b INTEGER DEFAULT 4, OUT c INTEGER) SET c = a * b;
CALL p(a => 2, c => ?);
--> value 8
CALL p(2, DEFAULT, ?);
--> value 8
CALL p(2, NULL, ?);
--> value NULL
CALL p(c => ?);
--> fails 42884
CREATE PROCEDURE q(IN a INTEGER DEFAULT 'x') BEGIN END;
--> fails 42804
