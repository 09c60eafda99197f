--# case E121-06 14.13 positioned UPDATE changes the row of the cursor
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
--# case E121-06 14.13 a positioned UPDATE may change what the cursor is ordered by, and goes on
CREATE PROCEDURE p(OUT n INTEGER) BEGIN DECLARE x INTEGER; DECLARE done BOOLEAN DEFAULT FALSE; DECLARE c CURSOR FOR SELECT a FROM pair WHERE a IS NOT NULL ORDER BY a FOR UPDATE; DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE; SET n = 0; OPEN c; FETCH c INTO x; WHILE NOT done DO SET n = n + 1; UPDATE pair SET a = a + 100 WHERE CURRENT OF c; FETCH c INTO x; END WHILE; END;
CALL p(?);
--> value 4
--# case E121-06 14.13 behind the last row there is none to change
CREATE PROCEDURE p() BEGIN DECLARE x INTEGER; DECLARE c CURSOR FOR SELECT a FROM pair WHERE a = 1; OPEN c; FETCH c INTO x; FETCH c INTO x; UPDATE pair SET b = 0 WHERE CURRENT OF c; END;
CALL p();
--> fails 24000