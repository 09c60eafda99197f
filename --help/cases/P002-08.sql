--# case P002-08 4/13.8 ITERATE starts the next round
CREATE FUNCTION odd_sum(n INTEGER) RETURNS INTEGER BEGIN
  DECLARE i, total INTEGER DEFAULT 0;
  rounds: WHILE i < n DO
    SET i = i + 1;
    IF MOD(i, 2) = 0 THEN ITERATE rounds; END IF;
    SET total = total + i;
  END WHILE rounds;
  RETURN total;
END;
SELECT odd_sum(5), odd_sum(NULL);
--> rows
-->   9 | 0
CREATE PROCEDURE p() b: BEGIN ITERATE b; END b;
--> fails 42612
--# case P002-08 4/13.8 ITERATE begins the next round of the loop it names
CREATE FUNCTION f() RETURNS INTEGER BEGIN
  DECLARE i, j, n INTEGER DEFAULT 0;
  a: WHILE i < 3 DO SET i = i + 1; SET j = 0; b: WHILE j < 3 DO SET j = j + 1; IF j = 2 THEN ITERATE a; END IF; SET n = n + 1; END WHILE; SET n = n + 100; END WHILE;
  RETURN n;
END;
SELECT f();
--> value 3
--# case P002-08 4/13.8 ITERATE names a loop around it
CREATE PROCEDURE p() a: BEGIN ITERATE a; END;
--> fails 42612