--# case E031-01 5.4 delimited identifiers keep their letters and may be any words
CREATE TABLE "Select From" ("Order" INTEGER, "a ""b""" INTEGER);
INSERT INTO "Select From" VALUES (1, NULL);
SELECT "Order", "a ""b""" FROM "Select From";
--> rows
-->   1 | NULL
SELECT "order" FROM "Select From";
--> fails 42703
SELECT "" FROM pair;
--> fails 42601
--# case E031-01 5.4 a delimited identifier is the regular one of the same letters
SELECT "a", "pair"."b" FROM "pair" WHERE "a" = 1;
--> rows
-->   1 | 10
--# case E031-01 5.4 what would be a keyword can be delimited
SELECT "select" FROM (VALUES (1)) AS t ("select");
--> value 1
--# case E031-01 5.2 a delimited identifier is closed
SELECT "a FROM pair;
--> fails 42601