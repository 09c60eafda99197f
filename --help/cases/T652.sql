--# case T652 11.60 dynamic statements in routines
CREATE FUNCTION rows_of(t VARCHAR(30)) RETURNS BIGINT READS SQL DATA BEGIN
  DECLARE n BIGINT;
  PREPARE q FROM 'SELECT COUNT(*) FROM ' || t;
  EXECUTE q INTO n;
  RETURN n;
END;
SELECT rows_of('hut'), rows_of('pair WHERE a IS NULL');
--> rows
-->   4 | 2
SELECT rows_of(NULL);
--> fails 22004
SELECT rows_of('nothing');
--> fails 42704
CREATE PROCEDURE sly() READS SQL DATA EXECUTE IMMEDIATE 'DELETE FROM pair';
CALL sly();
--> fails 2F002
--# case T652 20.13 a dynamic statement in a routine sees no variables of it
CREATE PROCEDURE p() BEGIN DECLARE n INTEGER DEFAULT 1; EXECUTE IMMEDIATE 'DELETE FROM pair WHERE a = n'; END;
CALL p();
--> fails 42703