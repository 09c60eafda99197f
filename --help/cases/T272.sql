--# case T272 17.5 a savepoint declared again takes the place of the older one
SAVEPOINT s;
INSERT INTO pair VALUES (60, NULL);
SAVEPOINT s;
INSERT INTO pair VALUES (61, NULL);
ROLLBACK TO s;
SELECT COUNT(*) FROM pair WHERE a >= 60;
--> value 1
ROLLBACK TO s;
RELEASE SAVEPOINT s;
ROLLBACK TO s;
--> fails 3B001
RELEASE SAVEPOINT s;
--> fails 3B001
--# case T272 17.5 a procedure with a savepoint level of its own
CREATE PROCEDURE inner_level() MODIFIES SQL DATA NEW SAVEPOINT LEVEL BEGIN
  SAVEPOINT s;
  INSERT INTO pair VALUES (62, NULL);
  ROLLBACK TO s;
  INSERT INTO pair VALUES (63, NULL);
END;
CREATE PROCEDURE out_of_reach() MODIFIES SQL DATA NEW SAVEPOINT LEVEL ROLLBACK TO SAVEPOINT s;
CREATE PROCEDURE in_reach() MODIFIES SQL DATA OLD SAVEPOINT LEVEL BEGIN SAVEPOINT t; ROLLBACK TO SAVEPOINT s; END;
COMMIT;
SAVEPOINT s;
INSERT INTO pair VALUES (60, NULL);
CALL inner_level();
SELECT a FROM pair WHERE a >= 60 ORDER BY a;
--> rows
-->   60
-->   63
CALL out_of_reach();
--> fails 3B001 like '%in this savepoint level%'
CALL in_reach();
SELECT COUNT(*) FROM pair WHERE a >= 60;
--> value 0
ROLLBACK TO SAVEPOINT t;
--> fails 3B001
--# case T272 17.5 an atomic block has a savepoint level of its own
SAVEPOINT s;
BEGIN ATOMIC SAVEPOINT s; INSERT INTO pair VALUES (64, NULL); ROLLBACK TO s; INSERT INTO pair VALUES (65, NULL); END;
BEGIN ATOMIC ROLLBACK TO SAVEPOINT s; END;
--> fails 3B001
SELECT a FROM pair WHERE a >= 60;
--> value 65
ROLLBACK TO SAVEPOINT s;
SELECT COUNT(*) FROM pair WHERE a >= 60;
--> value 0
--# case T272 17.5 the name again takes the place of the older one
INSERT INTO pair VALUES (7, 1);
SAVEPOINT a;
INSERT INTO pair VALUES (8, 1);
SAVEPOINT a;
INSERT INTO pair VALUES (9, 1);
ROLLBACK TO SAVEPOINT a;
SELECT MAX(a) FROM pair;
--> value 8
RELEASE SAVEPOINT a;
ROLLBACK TO SAVEPOINT a;
--> fails 3B001