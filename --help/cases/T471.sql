--# case T471 16.1 result sets that a procedure returns
CREATE PROCEDURE both_of() DYNAMIC RESULT SETS 2 BEGIN
  DECLARE a CURSOR WITH RETURN FOR SELECT a FROM pair WHERE a = 3;
  DECLARE b CURSOR WITH RETURN FOR SELECT name FROM hut WHERE height IS NULL;
  DECLARE c CURSOR FOR SELECT 'not returned' FROM pair;
  OPEN a;
  OPEN c;
  OPEN b;
END;
CALL both_of();
--> rows
-->   a
-->   3
CREATE PROCEDURE closed() BEGIN DECLARE a CURSOR WITH RETURN FOR SELECT 1; OPEN a; CLOSE a; END;
CALL closed();
--> no change
CREATE PROCEDURE rest() BEGIN DECLARE x INTEGER; DECLARE a CURSOR WITH RETURN FOR SELECT a FROM pair WHERE a IS NOT NULL ORDER BY a; OPEN a; FETCH a INTO x; END;
CALL rest();
--> rows
-->   2
-->   2
-->   3
CREATE PROCEDURE none() BEGIN DECLARE a CURSOR WITH RETURN FOR SELECT a FROM pair WHERE a > 9; OPEN a; END;
CALL none();
--> no rows
CREATE PROCEDURE wrong() BEGIN DECLARE a CURSOR WITH RETURN FOR SELECT nothing; END;
--> fails 42703
--# case T471 16.1 all result sets, in the order of OPEN
CREATE PROCEDURE both() DYNAMIC RESULT SETS 3 BEGIN
  DECLARE a CURSOR WITH RETURN FOR VALUES 1, 2;
  DECLARE b CURSOR WITH RETURN FOR SELECT 'b', 7 FROM (VALUES 1) AS v (x);
  DECLARE c CURSOR WITH RETURN FOR SELECT 1 FROM (VALUES 1) AS v (x) WHERE x > 1;
  OPEN b; OPEN a; OPEN c;
END;
CALL both();
--> rows
-->   'b' | 7
--> rows in any order of result 2
-->   2
-->   1
--> count 2 of result 2
--> no rows of result 3
--# case T471 16.1 result sets come in the order of OPEN, closed cursors give none
CREATE PROCEDURE p() DYNAMIC RESULT SETS 2 BEGIN
  DECLARE one CURSOR WITH RETURN FOR SELECT a FROM pair WHERE a = 1; DECLARE two CURSOR WITH RETURN FOR SELECT b FROM pair WHERE a = 3; DECLARE three CURSOR WITH RETURN FOR SELECT 5;
  OPEN two; OPEN one; OPEN three; CLOSE three;
END;
CALL p();
--> rows
-->   10
--> rows of result 2
-->   1