--# case F763 11.1 CURRENT_SCHEMA
SELECT CURRENT_SCHEMA;
--> value 'project'
CREATE SCHEMA depot;
SET SCHEMA 'depot';
SELECT CURRENT_SCHEMA || '.', CURRENT_SCHEMA = NULL;
--> rows
-->   'depot.' | NULL
SELECT CURRENT_SCHEMA + 1;
--> fails 42804
--# case F763 11.1 SET SCHEMA is for names without one
CREATE SCHEMA depot;
SET SCHEMA 'depot';
CREATE TABLE pair (x INTEGER);
INSERT INTO pair VALUES (1);
SELECT x FROM depot.pair;
--> value 1
SELECT COUNT(*) FROM project.pair;
--> value 6