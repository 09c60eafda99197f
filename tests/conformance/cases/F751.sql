-- F751 View CHECK enhancements
--# case LOCAL and CASCADED CHECK OPTION
CREATE VIEW below_100 AS SELECT a, b FROM pair WHERE a < 100;
CREATE VIEW local_ AS SELECT a, b FROM below_100 WHERE a > 10 WITH LOCAL CHECK OPTION;
CREATE VIEW cascaded_ AS SELECT a, b FROM below_100 WHERE a > 10 WITH CASCADED CHECK OPTION;
INSERT INTO local_ VALUES (200, 1);
--> change pair +1
INSERT INTO cascaded_ VALUES (200, 1);
--> fails 44000
INSERT INTO local_ VALUES (5, 1);
--> fails 44000
INSERT INTO cascaded_ VALUES (50, NULL);
--> change pair +1
UPDATE cascaded_ SET a = 7;
--> fails 44000
INSERT INTO cascaded_ VALUES (NULL, 1);
--> fails 44000
CREATE VIEW grouped AS SELECT a FROM pair GROUP BY a WITH CHECK OPTION;
--> fails 42807
