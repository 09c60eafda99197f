-- E121-06 Basic cursor support: Positioned UPDATE statement
--# case positioned UPDATE changes the row of the cursor
CREATE PROCEDURE raise_prices() BEGIN
  DECLARE p DECIMAL(8,2);
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE c CURSOR FOR SELECT price FROM stay WHERE hut = 'KOLM' FOR UPDATE OF price;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  OPEN c;
  FETCH c INTO p;
  WHILE NOT done DO UPDATE stay SET price = p + id WHERE CURRENT OF c; FETCH c INTO p; END WHILE;
END;
CALL raise_prices();
--> change stay ~3
--> change stay (4) price 28.00 -> 32.00
CREATE PROCEDURE other() BEGIN DECLARE c CURSOR FOR SELECT price FROM stay FOR UPDATE OF price; UPDATE stay SET night = NULL WHERE CURRENT OF c; END;
--> fails 42829
CREATE PROCEDURE early() BEGIN DECLARE c CURSOR FOR SELECT price FROM stay; OPEN c; UPDATE stay SET price = 0 WHERE CURRENT OF c; END;
CALL early();
--> fails 24000
