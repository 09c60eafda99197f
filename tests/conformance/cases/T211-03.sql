-- T211-03 Basic trigger capability: AFTER triggers
--# case AFTER triggers see what the statement has done, and can stop it
CREATE TRIGGER t AFTER UPDATE ON pair REFERENCING NEW AS n OLD AS o FOR EACH ROW
  IF n.b < o.b THEN SIGNAL SQLSTATE '45060' SET MESSAGE_TEXT = 'b may not fall'; END IF;
UPDATE pair SET b = b + 1;
--> change pair ~4
UPDATE pair SET b = b - 1 WHERE a = 1;
--> fails 45060
--> no change
UPDATE pair SET b = NULL WHERE a = 1;
--> change pair ~1
CREATE TRIGGER u AFTER UPDATE ON pair REFERENCING NEW AS n FOR EACH ROW SET n.b = 1;
--> fails 42807
