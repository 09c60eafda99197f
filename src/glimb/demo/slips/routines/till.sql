-- More mistakes that nobody notices: `glimb check` tells them.

-- The message tells the row count of the INSERT, not that of the UPDATE.
CREATE PROCEDURE sell(IN sale_id INTEGER, IN pieces INTEGER)
MODIFIES SQL DATA
BEGIN
  DECLARE changed INTEGER;
  UPDATE sale SET pieces = sale.pieces - sell.pieces WHERE id = sale_id;
  INSERT INTO sale VALUES ((SELECT MAX(id) + 1 FROM sale), 'sold', sell.pieces, 0);
  GET DIAGNOSTICS changed = ROW_COUNT;
  CALL note(CAST(changed AS VARCHAR(4)) || ' row updated');
END;

-- The parameter is hidden by the column: this counts all rows.
CREATE FUNCTION pieces_of(item VARCHAR(20)) RETURNS INTEGER
READS SQL DATA
RETURN (SELECT SUM(pieces) FROM sale WHERE item = item);

-- Two sales of one item, and this ends in 21000; and nothing says so when there is none.
CREATE FUNCTION number_of(what VARCHAR(20)) RETURNS INTEGER
DETERMINISTIC READS SQL DATA
BEGIN
  DECLARE found INTEGER;
  DECLARE missing VARCHAR(20);
  SELECT id INTO found FROM sale WHERE item = what;
  IF found = NULL THEN CALL note('no ' || missing); END IF;
  RETURN found;
END;
