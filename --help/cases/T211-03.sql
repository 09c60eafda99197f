--# case T211-03 11.49 AFTER triggers see what the statement has done, and can stop it
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
--# case T211-03 11.49 an AFTER trigger for each row sees all rows of the statement
CREATE TABLE log (n BIGINT);
CREATE TRIGGER t AFTER INSERT ON pair FOR EACH ROW INSERT INTO log SELECT COUNT(*) FROM pair;
INSERT INTO pair VALUES (7, 1), (8, 1);
SELECT MIN(n), MAX(n), COUNT(*) FROM log;
--> rows
-->   8 | 8 | 2