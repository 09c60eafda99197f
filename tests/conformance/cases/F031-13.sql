-- F031-13 Basic schema manipulation: DROP TABLE statement: RESTRICT clause
--# case DROP TABLE RESTRICT keeps a table that is in use
CREATE VIEW v AS SELECT a FROM pair;
DROP TABLE pair RESTRICT;
--> fails 42893
DROP TABLE hut RESTRICT;
--> fails 42893
DROP VIEW v;
DROP TABLE pair RESTRICT;
SELECT 1 FROM pair;
--> fails 42704
DROP TABLE nothing;
--> fails 42704
