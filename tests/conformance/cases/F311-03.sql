-- F311-03 Schema definition statement: CREATE VIEW
--# case CREATE VIEW inside CREATE SCHEMA
CREATE SCHEMA depot CREATE TABLE gear (id INTEGER) CREATE VIEW many AS SELECT COUNT(*) AS n FROM gear;
SELECT n FROM depot.many;
--> value 0
CREATE SCHEMA other CREATE VIEW v AS SELECT nothing FROM hut;
--> fails 42703
