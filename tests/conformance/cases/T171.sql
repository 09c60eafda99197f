-- T171 LIKE clause in table definition
--# case LIKE in a table definition copies columns
CREATE TABLE copy (id INTEGER, LIKE pair, note VARCHAR(10));
INSERT INTO copy VALUES (1, 2, NULL, 'x');
SELECT id, a, b, note FROM copy;
--> rows
-->   1 | 2 | NULL | 'x'
CREATE TABLE h2 (LIKE hut);
INSERT INTO h2 VALUES ('VARN', NULL, 1, 1, NULL);
--> fails 23502
INSERT INTO h2 VALUES ('VARN', 'x', 1, -1, NULL), ('VARN', 'y', 1, -1, NULL);
--> change h2 +2
CREATE TABLE h3 (LIKE nothing);
--> fails 42704
