-- F311-04 Schema definition statement: CREATE VIEW: WITH CHECK OPTION
--# case WITH CHECK OPTION inside CREATE SCHEMA
CREATE SCHEMA depot CREATE TABLE gear (id INTEGER) CREATE VIEW small AS SELECT id FROM gear WHERE id < 10 WITH CHECK OPTION;
INSERT INTO depot.small VALUES (9);
--> change "depot.gear" +1
INSERT INTO depot.small VALUES (10);
--> fails 44000
INSERT INTO depot.small VALUES (NULL);
--> fails 44000
