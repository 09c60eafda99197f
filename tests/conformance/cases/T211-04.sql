-- T211-04 Basic trigger capability: FOR EACH ROW triggers
--# case FOR EACH ROW and FOR EACH STATEMENT
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
