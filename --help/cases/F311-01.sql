--# case F311-01 11.1 CREATE SCHEMA
CREATE SCHEMA depot;
CREATE TABLE depot.gear (id INTEGER);
INSERT INTO depot.gear VALUES (NULL);
SELECT COUNT(*) FROM depot.gear WHERE id IS NULL;
--> value 1
CREATE SCHEMA depot;
--> fails 42710
SELECT 1 FROM cellar.gear;
--> fails 42704
--# case F311-01 11.1 a schema's name goes before those of its tables
CREATE SCHEMA depot;
CREATE TABLE depot.pair (x INTEGER);
INSERT INTO depot.pair VALUES (1);
SELECT depot.pair.x, pair.a FROM depot.pair, pair WHERE pair.a = 3;
--> rows
-->   1 | 3