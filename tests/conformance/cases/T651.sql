-- T651 SQL-schema statements in SQL routines
--# case schema statements in routines
CREATE PROCEDURE prepare_it() BEGIN CREATE TABLE scratch (a INTEGER); END;
CALL prepare_it();
INSERT INTO scratch VALUES (NULL);
--> change scratch +1
CALL prepare_it();
--> fails 42710
DROP TABLE scratch;
CREATE PROCEDURE reading() READS SQL DATA BEGIN CREATE TABLE scratch (a INTEGER); END;
--> fails 42985
