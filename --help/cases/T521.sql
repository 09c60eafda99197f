--# case T521 10.4 named arguments in CALL
CREATE PROCEDURE p(IN a INTEGER, IN b INTEGER, OUT c INTEGER) SET c = a - b;
CALL p(b => 1, a => 10, c => ?);
--> value 9
CALL p(5, c => ?, b => NULL);
--> value NULL
CALL p(b => 1, 10, ?);
--> fails 42884
CALL p(a => 1, a => 2, c => ?);
--> fails 42884
CALL p(x => 1, a => 2, c => ?);
--> fails 42884
--# case T521 10.4 named arguments in any order, none twice
CREATE PROCEDURE p(a INTEGER, b INTEGER, OUT c INTEGER) SET c = a - b;
CALL p(b => 1, a => 5, c => ?);
--> value 4
CALL p(1, a => 2, c => ?);
--> fails 42884