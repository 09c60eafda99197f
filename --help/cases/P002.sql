--# case P002 4/13.1 a routine that computes
CREATE FUNCTION collatz(n INTEGER) RETURNS INTEGER BEGIN
  DECLARE steps INTEGER DEFAULT 0;
  WHILE n <> 1 DO
    SET n = CASE WHEN MOD(n, 2) = 0 THEN n / 2 ELSE 3 * n + 1 END, steps = steps + 1;
  END WHILE;
  RETURN steps;
END;
SELECT collatz(27), collatz(1), collatz(NULL);
--> rows
-->   111 | 0 | 0
CREATE FUNCTION wrong() RETURNS INTEGER BEGIN SET x = 1; RETURN y; END;
--> fails 42703