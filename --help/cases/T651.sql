--# case T651 11.60 schema statements in routines
CREATE PROCEDURE prepare_it() BEGIN CREATE TABLE scratch (a INTEGER); END;
CALL prepare_it();
INSERT INTO scratch VALUES (NULL);
--> change scratch +1
CALL prepare_it();
--> fails 42710
DROP TABLE scratch;
CREATE PROCEDURE reading() READS SQL DATA BEGIN CREATE TABLE scratch (a INTEGER); END;
--> fails 42985
--# case T651 11.60 a table made in a procedure is there for the next statement
CREATE PROCEDURE p() BEGIN CREATE TABLE made (n INTEGER); EXECUTE IMMEDIATE 'INSERT INTO made VALUES (5)'; END;
CALL p();
SELECT n FROM made;
--> value 5