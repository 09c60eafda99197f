--# case T171 11.3 LIKE in a table definition copies columns
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
--# case T171 11.3 LIKE copies names, types and NOT NULL, no keys
CREATE TABLE t (LIKE hut);
INSERT INTO t VALUES ('A', 'x', 1, -1, NULL), ('A', 'y', 1, 1, NULL);
--> change t +2
INSERT INTO t VALUES ('A', NULL, 1, 1, NULL);
--> fails 23502