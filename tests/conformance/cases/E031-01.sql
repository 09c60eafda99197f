-- E031-01 Identifiers: Delimited identifiers
--# case delimited identifiers keep their letters and may be any words
CREATE TABLE "Select From" ("Order" INTEGER, "a ""b""" INTEGER);
INSERT INTO "Select From" VALUES (1, NULL);
SELECT "Order", "a ""b""" FROM "Select From";
--> rows
-->   1 | NULL
SELECT "order" FROM "Select From";
--> fails 42703
SELECT "" FROM pair;
--> fails 42601
