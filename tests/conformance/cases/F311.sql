-- F311 Schema definition statement
--# case a schema with a table and a view in it
CREATE SCHEMA depot CREATE TABLE gear (id INTEGER PRIMARY KEY, name VARCHAR(20)) CREATE VIEW names AS SELECT name FROM gear;
INSERT INTO depot.gear VALUES (1, NULL);
SELECT * FROM depot.names;
--> rows
-->   NULL
SELECT * FROM gear;
--> fails 42704
