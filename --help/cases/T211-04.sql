--# case T211-04 11.49 FOR EACH ROW and FOR EACH STATEMENT
CREATE TRIGGER r AFTER UPDATE ON pair FOR EACH ROW CALL note('row');
CREATE TRIGGER s AFTER UPDATE ON pair FOR EACH STATEMENT CALL note('statement');
CREATE PROCEDURE count_notes(OUT n BIGINT) BEGIN UPDATE pair SET b = 1 WHERE a = 2; SELECT COUNT(*) INTO n FROM glimb.notes WHERE note = 'row'; END;
CALL count_notes(?);
--> value 2
--> note 'statement'
UPDATE pair SET b = 1 WHERE a IS NULL AND b = 77;
--> note 'statement'
CREATE TRIGGER x AFTER UPDATE ON pair REFERENCING NEW AS n FOR EACH STATEMENT CALL note('x');
--> fails 42601
--# case T211-04 11.49 for each statement once, also for no rows; for each row for none
CREATE TRIGGER s AFTER DELETE ON pair FOR EACH STATEMENT CALL note('statement');
CREATE TRIGGER r AFTER DELETE ON pair FOR EACH ROW CALL note('row');
DELETE FROM pair WHERE FALSE;
--> note 'statement'