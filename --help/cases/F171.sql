--# case F171 11.1 several schemas, and SET SCHEMA
CREATE SCHEMA depot;
CREATE SCHEMA cellar;
CREATE TABLE depot.item (n INTEGER);
CREATE TABLE cellar.item (n VARCHAR(5));
INSERT INTO depot.item VALUES (1);
INSERT INTO cellar.item VALUES (NULL);
SELECT d.n, c.n FROM depot.item d, cellar.item c;
--> rows
-->   1 | NULL
SET SCHEMA 'cellar';
INSERT INTO item VALUES ('wine');
SELECT COUNT(*) FROM item;
--> value 2
SET SCHEMA 'project';
SELECT 1 FROM item;
--> fails 42704
SET SCHEMA 'attic';
--> fails 3F000
DROP SCHEMA depot;
--> fails 42893
DROP SCHEMA depot CASCADE;
SELECT 1 FROM depot.item;
--> fails 42704
--# case F171 11.1 a foreign key into another schema
CREATE SCHEMA depot;
CREATE TABLE depot.gear (id INTEGER PRIMARY KEY);
CREATE TABLE loan (gear INTEGER REFERENCES depot.gear);
INSERT INTO loan VALUES (1);
--> fails 23503
INSERT INTO depot.gear VALUES (1);
INSERT INTO loan VALUES (1);
--> change loan +1
DROP SCHEMA depot RESTRICT;
--> fails 42893