--# case S091-02 6.42 arrays of distinct types
CREATE TYPE metres AS INTEGER FINAL;
CREATE TABLE route (name VARCHAR(9), heights metres ARRAY[5]);
INSERT INTO route VALUES ('west', ARRAY[CAST(900 AS metres), NULL]);
SELECT CAST(heights[1] AS INTEGER), heights[2] FROM route;
--> rows
-->   900 | NULL
SELECT heights[1] + 1 FROM route;
--> fails 42804
INSERT INTO route VALUES ('east', ARRAY[1, 2]);
--> fails 42804