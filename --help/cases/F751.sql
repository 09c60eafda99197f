--# case F751 11.32 LOCAL and CASCADED CHECK OPTION
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
--# case F751 11.32 a view over one with a CHECK OPTION is held to it
CREATE VIEW v AS SELECT a, b FROM pair WHERE a > 10 WITH CHECK OPTION;
CREATE VIEW w AS SELECT a, b FROM v WHERE b > 0;
INSERT INTO w VALUES (11, -5);
--> change pair +1
INSERT INTO w VALUES (9, 5);
--> fails 44000