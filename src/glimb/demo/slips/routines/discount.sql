-- The mistake: what is neither below 50 nor above 50 gets no discount at all.
CREATE FUNCTION discount(pieces INTEGER) RETURNS INTEGER
DETERMINISTIC CONTAINS SQL
BEGIN
  IF pieces < 50 THEN RETURN 5; END IF;
  IF pieces > 50 THEN RETURN 10; END IF;
  RETURN 0;
END;
