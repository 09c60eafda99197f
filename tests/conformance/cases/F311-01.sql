-- F311-01 Schema definition statement: CREATE SCHEMA
--# case CREATE SCHEMA
CREATE SCHEMA depot;
CREATE TABLE depot.gear (id INTEGER);
INSERT INTO depot.gear VALUES (NULL);
SELECT COUNT(*) FROM depot.gear WHERE id IS NULL;
--> value 1
CREATE SCHEMA depot;
--> fails 42710
SELECT 1 FROM cellar.gear;
--> fails 42704
