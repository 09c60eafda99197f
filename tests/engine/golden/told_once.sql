-- What is wrong in a declaration is told there, and not again wherever its name is used.
CREATE TABLE bunk (id INTEGER PRIMARY KEY, state VARCHAR(10));
CREATE PROCEDURE tidy() BEGIN
  DECLARE first_one INTEGR;
  DECLARE second_one INTEGER DEFAULT thrid;
  DECLARE c CURSOR FOR SELECT id FROM bunks;
  OPEN c;
  FETCH c INTO first_one;
  SET first_one = second_one + 1;
  IF first_one > 3 THEN SET fourth = 1; END IF;
  UPDATE bunk SET state = 'free' WHERE CURRENT OF c;
  CLOSE c;
END;
