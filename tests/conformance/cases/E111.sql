-- E111 Single row SELECT statement
--# case SELECT INTO takes one row
CREATE PROCEDURE one(IN wanted INTEGER, OUT found INTEGER) BEGIN SET found = -1; SELECT b INTO found FROM pair WHERE a = wanted; END;
CALL one(1, ?);
--> value 10
CALL one(99, ?);
--> value -1
CALL one(2, ?);
--> fails 21000
CREATE PROCEDURE wrong(OUT found INTEGER) SELECT a, b INTO found FROM pair;
--> fails 42601
