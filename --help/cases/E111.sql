--# case E111 14.7 SELECT INTO takes one row
CREATE PROCEDURE one(IN wanted INTEGER, OUT found INTEGER) BEGIN SET found = -1; SELECT b INTO found FROM pair WHERE a = wanted; END;
CALL one(1, ?);
--> value 10
CALL one(99, ?);
--> value -1
CALL one(2, ?);
--> fails 21000
CREATE PROCEDURE wrong(OUT found INTEGER) SELECT a, b INTO found FROM pair;
--> fails 42601
--# case E111 14.7 no row leaves the variables and is 02000
CREATE PROCEDURE p(OUT n INTEGER, OUT s CHAR(5)) BEGIN SET n = 7; SELECT a INTO n FROM pair WHERE a > 9; GET DIAGNOSTICS CONDITION 1 s = RETURNED_SQLSTATE; END;
CALL p(?, ?);
--> value n = 7
--> value s = '02000'
--# case E111 14.7 two rows are 21000 and leave the variables
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE n INTEGER DEFAULT 7; DECLARE CONTINUE HANDLER FOR SQLSTATE '21000' BEGIN END; SELECT a INTO n FROM pair; RETURN n; END;
SELECT f();
--> value 7
--# case E111 14.7 values are assigned as by SET: 22001 when too long
CREATE FUNCTION g() RETURNS VARCHAR(3) BEGIN DECLARE t VARCHAR(3); SELECT name INTO t FROM hut WHERE code = 'VARN'; RETURN t; END;
SELECT g();
--> fails 22001