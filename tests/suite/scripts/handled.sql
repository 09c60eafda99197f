--# setup
CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER);
INSERT INTO t VALUES (1, 1);
CREATE FUNCTION half (n INTEGER) RETURNS INTEGER BEGIN
  DECLARE odd CONDITION FOR SQLSTATE 'UH001';
  DECLARE EXIT HANDLER FOR odd RETURN -1;
  IF MOD(n, 2) = 1 THEN SIGNAL odd SET MESSAGE_TEXT = 'no "half" of ' || CAST(n AS VARCHAR(5)); END IF;
  RETURN n / 2;
END;
CREATE PROCEDURE put (IN i INTEGER, OUT told VARCHAR(20)) MODIFIES SQL DATA BEGIN
  DECLARE c INTEGER;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET told = 'none';
  BEGIN ATOMIC
    DECLARE UNDO HANDLER FOR SQLEXCEPTION SET told = 'inner';
    INSERT INTO t VALUES (i, half(i));
  END;
  SELECT v INTO c FROM t WHERE id = 77;
END;
COMMIT;
--# case taken
SELECT half(3);
--> handled UH001 in half
--> handled odd
--> handled like '%"half" of 3%'
--> handled UH001 like 'no%' in half
SELECT half(id), half(4) FROM t;
--> handled ODD in half
CALL put(1, ?);
--> handled 23505 in put
--> handled NOT FOUND in put
--> handled UH001 in half
CALL put(2, ?);
--> handled 02000
BEGIN DECLARE x INTEGER; DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN END; SET x = 1 / 0; END;
--> handled 22012
BEGIN DECLARE x INTEGER; DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET x = 1; SIGNAL SQLSTATE '45001'; END;
--> handled 45001
BEGIN DECLARE x INTEGER; DECLARE CONTINUE HANDLER FOR SQLSTATE '45001' SET x = 1; SIGNAL SQLSTATE '45001'; SET x = 1 / 0; END;
--> handled 45001
--> fails 22012
--# case not taken
SELECT half(4);
--> handled UH001
CALL put(1, ?);
--> handled 22012
--> handled 23505 in half
--> handled 23505 like 'x%'
--> handled UH001 in put
SELECT half(3);
SELECT half(4);
--> handled UH001
SELECT 1 / 0;
--> handled 22012
--> fails 22012
--# case every time
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  WHILE i < 2000 DO
    BEGIN DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET i = i + 1; SIGNAL SQLSTATE '45001'; END;
  END WHILE;
END;
--> handled 45002
