--# case F031-13 11.31 DROP TABLE RESTRICT keeps a table that is in use
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
--# case F031-13 11.31 DROP TABLE is not for views, DROP VIEW not for tables
CREATE VIEW v AS SELECT 1 AS a;
DROP TABLE v;
--> fails 42704
DROP VIEW pair;
--> fails 42704
--# case F031-13 11.31 a dropped child refers to nothing any more
DROP TABLE stay;
DELETE FROM hut WHERE code = 'VARN';
--> change hut -1
DROP TABLE guest;