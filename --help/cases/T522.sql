--# case T522 10.4 defaults for IN parameters of procedures
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
--# case T522 10.4 what is left out takes its default, computed at each call
CREATE PROCEDURE p(OUT c INTEGER, a INTEGER DEFAULT 7, b INTEGER DEFAULT 2 + 1) SET c = a * b;
CALL p(?);
--> value 21
CALL p(?, 2);
--> value 6
CALL p(?, b => 1);
--> value 7
CALL p(?, DEFAULT, 1);
--> value 7
--# case T522 10.4 NULL is no default
CREATE PROCEDURE p(OUT c INTEGER, a INTEGER DEFAULT 7) SET c = a;
CALL p(?, NULL);
--> value NULL