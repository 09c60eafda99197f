--# case F311-02 11.3 CREATE TABLE inside CREATE SCHEMA
CREATE SCHEMA depot CREATE TABLE gear (id INTEGER PRIMARY KEY) CREATE TABLE loan (gear INTEGER REFERENCES gear);
INSERT INTO depot.loan VALUES (1);
--> fails 23503
INSERT INTO depot.loan VALUES (NULL);
--> change "depot.loan" +1
CREATE SCHEMA other CREATE TABLE a (x NOTHING);
--> fails 42704
SELECT COUNT(*) FROM information_schema.schemata WHERE schema_name = 'other';
--> value 0