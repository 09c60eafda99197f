-- F031-16 Basic schema manipulation: DROP VIEW statement: RESTRICT clause
--# case DROP VIEW RESTRICT keeps a view that is in use
CREATE VIEW v AS SELECT a FROM pair;
CREATE VIEW w AS SELECT a FROM v;
DROP VIEW v RESTRICT;
--> fails 42893
DROP VIEW w RESTRICT;
DROP VIEW v RESTRICT;
DROP VIEW v;
--> fails 42704
DROP VIEW pair;
--> fails 42704
