-- Sessions of all lengths of names, with settings: what is drawn of their heads, and kept of their orders.
--# case long names
--# session the_clerk_at_the_northern_valley_station patience 5s isolation SERIALIZABLE
UPDATE depot SET name = 'a' WHERE code = 'N';
--# session b patience 2s
SELECT COUNT(*) FROM depot;
--# session the_second_clerk isolation REPEATABLE READ
SELECT COUNT(*) FROM parcel;
--# session four
SELECT 1;
--# case patience is kept
--# session x patience 5s
UPDATE depot SET name = 'a' WHERE code = 'N';
--# session y patience 2s
UPDATE depot SET name = 'b' WHERE code = 'N';
--# session x
ROLLBACK;
--# case a long message
CREATE PROCEDURE long_message(IN a INTEGER) BEGIN
  DECLARE b INTEGER DEFAULT a * 2;
  IF b > 1 THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'nobody may carry more than what the scales of the yard can weigh, which are twelve kilograms for each of the walkers who go down together, and not one gram more'; END IF;
END;
CALL long_message(7);
--> fails 45000
--# case many calls, some of them long
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  DECLARE sum DECIMAL(12, 2) DEFAULT 0;
  WHILE i < 120 DO
    SET i = i + 1;
    SET sum = sum + fare(i);
    IF MOD(i, 40) = 0 THEN SET sum = sum + levels(30); END IF;
  END WHILE;
  CALL note(CAST(sum AS VARCHAR(20)));
END;
