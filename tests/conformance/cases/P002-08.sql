-- P002-08 Computational completeness: ITERATE statement
--# case ITERATE starts the next round
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
