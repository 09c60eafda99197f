--# case F311-04 11.32 WITH CHECK OPTION inside CREATE SCHEMA
CREATE SCHEMA depot CREATE TABLE gear (id INTEGER) CREATE VIEW small AS SELECT id FROM gear WHERE id < 10 WITH CHECK OPTION;
INSERT INTO depot.small VALUES (9);
--> change "depot.gear" +1
INSERT INTO depot.small VALUES (10);
--> fails 44000
INSERT INTO depot.small VALUES (NULL);
--> fails 44000
--# case F311-04 11.32 a CHECK OPTION refuses what the view would not show, UNKNOWN too
CREATE VIEW v AS SELECT a, b FROM pair WHERE a > 1 WITH CHECK OPTION;
INSERT INTO v VALUES (2, 2);
--> change pair +1
INSERT INTO v VALUES (1, 2);
--> fails 44000
INSERT INTO v (b) VALUES (2);
--> fails 44000
UPDATE v SET a = a - 1 WHERE a = 2;
--> fails 44000