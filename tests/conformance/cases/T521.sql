-- T521 Named arguments in CALL statement
--# case named arguments in CALL
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
