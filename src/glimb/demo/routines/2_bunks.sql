-- Finding and booking bunks.

CREATE FUNCTION free_bunks(hut_code CHAR(4), on_night DATE)
RETURNS TABLE (bunk_no INTEGER, room VARCHAR(10))
READS SQL DATA
RETURN TABLE (
  SELECT b.bunk_no, b.room FROM bunk b
   WHERE b.hut = hut_code AND b.state = 'free' AND hut_open(hut_code, on_night)
     AND NOT EXISTS (SELECT 1 FROM stay s WHERE s.bunk = b.id AND s.state <> 'cancelled'
                     AND on_night >= s.night AND on_night < s.night + CAST(s.nights AS INTERVAL DAY)));

-- How full a hut is, night by night.
CREATE FUNCTION occupancy(hut_code CHAR(4), first_night DATE, last_night DATE)
RETURNS TABLE (night DATE, taken BIGINT, bunks BIGINT)
READS SQL DATA
RETURN TABLE (
  WITH RECURSIVE calendar (day) AS (
    VALUES (first_night)
    UNION ALL
    SELECT day + INTERVAL '1' DAY FROM calendar WHERE day < last_night)
  SELECT c.day,
         (SELECT COUNT(*) FROM stay s JOIN bunk b ON b.id = s.bunk
           WHERE b.hut = hut_code AND s.state <> 'cancelled'
             AND c.day >= s.night AND c.day < s.night + CAST(s.nights AS INTERVAL DAY)),
         (SELECT COUNT(*) FROM bunk b WHERE b.hut = hut_code AND b.state <> 'broken')
    FROM calendar c);

CREATE PROCEDURE book_bunk(IN hut CHAR(4), IN night DATE, IN guest INTEGER)
MODIFIES SQL DATA
BEGIN
  DECLARE chosen, number INTEGER;
  SELECT b.id, b.bunk_no INTO chosen, number FROM bunk b
   WHERE b.hut = book_bunk.hut AND b.state = 'free'
     AND NOT EXISTS (SELECT 1 FROM stay s WHERE s.bunk = b.id AND s.state <> 'cancelled'
                     AND book_bunk.night >= s.night AND book_bunk.night < s.night + CAST(s.nights AS INTERVAL DAY))
   ORDER BY b.bunk_no FETCH FIRST ROW ONLY FOR UPDATE;
  IF chosen IS NULL THEN
    SIGNAL SQLSTATE 'UH001' SET MESSAGE_TEXT = 'no free bunk in ' || hut || ' on ' || CAST(night AS VARCHAR(10));
  END IF;
  UPDATE bunk SET state = 'held' WHERE id = chosen;
  INSERT INTO stay (id, bunk, guest, night)
    VALUES ((SELECT COALESCE(MAX(id), 0) + 1 FROM stay), chosen, guest, night);
  CALL note('bunk ' || CAST(number AS VARCHAR(4)) || ' held');
END;

-- Books a bunk for each of so many guests in a row; a guest who gets none is passed over, the others keep theirs.
CREATE PROCEDURE book_group(IN hut CHAR(4), IN night DATE, IN first_guest INTEGER, IN size INTEGER,
                            OUT booked INTEGER, OUT turned_away INTEGER)
MODIFIES SQL DATA
BEGIN
  DECLARE nth INTEGER DEFAULT 0;
  DECLARE full_house CONDITION FOR SQLSTATE 'UH001';
  SET booked = 0;
  SET turned_away = 0;
  each_guest: WHILE nth < size DO
    SAVEPOINT this_guest;
    BEGIN
      DECLARE EXIT HANDLER FOR full_house
      BEGIN
        ROLLBACK TO SAVEPOINT this_guest;
        SET turned_away = turned_away + 1;
      END;
      CALL book_bunk(hut, night, first_guest + nth);
      SET booked = booked + 1;
    END;
    SET nth = nth + 1;
  END WHILE each_guest;
END;

CREATE PROCEDURE cancel_stay(IN stay_id INTEGER, IN on_day DATE, OUT refund DECIMAL(10,2))
MODIFIES SQL DATA
BEGIN
  DECLARE begins DATE;
  DECLARE its_state VARCHAR(9);
  SELECT s.night, s.state INTO begins, its_state FROM stay s WHERE s.id = stay_id FOR UPDATE;
  CASE its_state
    WHEN 'booked' THEN
      SET refund = stay_price(stay_id) * refund_percent(begins - on_day) / 100;
      UPDATE stay SET state = 'cancelled' WHERE id = stay_id;
      UPDATE bunk SET state = 'free' WHERE state = 'held' AND id = (SELECT s.bunk FROM stay s WHERE s.id = stay_id);
    WHEN 'cancelled' THEN
      SIGNAL SQLSTATE 'UH002' SET MESSAGE_TEXT = 'cancelled already';
    ELSE
      SIGNAL SQLSTATE 'UH003' SET MESSAGE_TEXT = 'there is no such booking';
  END CASE;
END;

-- Closes a hut and cancels what had been booked there; gives how many stays that were.
CREATE PROCEDURE close_hut(IN hut CHAR(4), IN first_day DATE, IN last_day DATE, IN reason VARCHAR(30),
                           OUT cancelled INTEGER)
MODIFIES SQL DATA
BEGIN ATOMIC
  SET cancelled = 0;
  INSERT INTO closure VALUES ((SELECT COALESCE(MAX(id), 0) + 1 FROM closure), hut, first_day, last_day, reason);
  FOR one AS SELECT s.id AS stay_id, g.name AS who FROM stay s JOIN bunk b ON b.id = s.bunk JOIN guest g ON g.id = s.guest
              WHERE b.hut = close_hut.hut AND s.state = 'booked'
                AND s.night BETWEEN close_hut.first_day AND close_hut.last_day ORDER BY s.id DO
    UPDATE stay SET state = 'cancelled' WHERE id = one.stay_id;
    SET cancelled = cancelled + 1;
    CALL note('tell ' || one.who);
  END FOR;
END;
