--# case asserted by what it changes alone
CALL tell_the_yard('x', NULL);
--> change yard.log_of_all_that_happened_in_the_yard +1
--# case a block of its own, with variables, a cursor and a query to take out
BEGIN
  DECLARE least INTEGER DEFAULT 3;
  DECLARE heaviest DECIMAL(9, 3);
  DECLARE others CURSOR FOR SELECT id, weight FROM parcel WHERE id > least AND weight > 20 ORDER BY id;
  DECLARE one INTEGER;
  DECLARE kilograms DECIMAL(9, 3);
  OPEN others;
  FETCH others INTO one, kilograms;
  SET heaviest = (SELECT MAX(weight) FROM parcel WHERE id > least);
  IF heaviest >= kilograms AND EXISTS (SELECT 1 FROM carrying WHERE parcel = least) THEN
    CALL note(CAST(one AS VARCHAR(5)) || ' of ' || CAST(heaviest AS VARCHAR(9)));
  END IF;
  FOR each AS SELECT code FROM depot WHERE above IS NOT NULL ORDER BY code DO
    UPDATE parcel SET depot = each.code WHERE id = least;
    SET least = least + 1;
  END FOR;
  CLOSE others;
END;
--> note '6 of 27.000'
--> change parcel ~1
ROLLBACK;
--# case two change many rows, and a third one looks on
--# session a
UPDATE parcel SET fragile = TRUE WHERE id < 8;
--# session b
DELETE FROM carrying;
COMMIT;
--# session a
COMMIT;
--# session c
SELECT COUNT(*) FROM carrying;
