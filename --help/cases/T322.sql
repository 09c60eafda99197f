--# case T322 11.60 what was declared of a data type
CREATE TABLE t (a NUMERIC(7,3), b INTEGER, c VARCHAR(5));
SELECT column_name, declared_data_type, declared_numeric_precision, declared_numeric_scale FROM information_schema.columns WHERE table_name = 't' ORDER BY ordinal_position;
--> rows
-->   'a' | 'DECIMAL' | 7 | 3
-->   'b' | 'INTEGER' | NULL | NULL
-->   'c' | NULL | NULL | NULL
CREATE TABLE u (a NUMERIC(3,7));
--> fails 42601
--# case T322 11.60 RETURNS NULL ON NULL INPUT does not run the body
CREATE FUNCTION f(a INTEGER, b INTEGER) RETURNS INTEGER RETURNS NULL ON NULL INPUT BEGIN SIGNAL SQLSTATE '45000'; RETURN 1; END;
SELECT f(NULL, 1), f(1, NULL);
--> rows
-->   NULL | NULL
SELECT f(1, 1);
--> fails 45000
--# case T322 11.60 READS SQL DATA may not change, also through what it calls
CREATE PROCEDURE changes() UPDATE pair SET b = 1;
CREATE PROCEDURE p() READS SQL DATA CALL changes();
--> fails 42985
--# case T322 11.60 CONTAINS SQL reads no table
CREATE FUNCTION f() RETURNS INTEGER CONTAINS SQL RETURN (SELECT MAX(a) FROM pair);
--> fails 42985
--# case T322 11.60 what cannot be seen when it is made is class 2F when it runs
CREATE PROCEDURE p() READS SQL DATA EXECUTE IMMEDIATE 'DELETE FROM pair';
CALL p();
--> fails 2F002
SELECT COUNT(*) FROM pair;
--> value 6