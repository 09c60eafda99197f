-- The same names in the project's own schema, in another one and in a module.

CREATE FUNCTION yard.happened(wanted VARCHAR(20)) RETURNS BIGINT
READS SQL DATA
RETURN (SELECT COUNT(*) FROM yard.log_of_all_that_happened_in_the_yard WHERE what LIKE wanted);

CREATE FUNCTION happened(wanted VARCHAR(20)) RETURNS BIGINT
READS SQL DATA
RETURN yard.happened(wanted) + 100;

CREATE MODULE walkers
  DECLARE FUNCTION strength(walker INTEGER) RETURNS INTEGER CONTAINS SQL RETURN 10 + walker;
  DECLARE PROCEDURE happened(IN walker INTEGER, OUT n INTEGER) CONTAINS SQL
  BEGIN
    SET n = strength(walker); --@ asked
    IF n > 15 THEN SIGNAL SQLSTATE 'UR002' SET MESSAGE_TEXT = 'too strong'; END IF;
  END;
END MODULE;
