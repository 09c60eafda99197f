--# case F031-04 11.11 a new column takes no numbers of an identity that is there
CREATE TABLE t (id INTEGER GENERATED ALWAYS AS IDENTITY, a INTEGER);
INSERT INTO t (a) VALUES (1), (2);
ALTER TABLE t ADD COLUMN b INTEGER DEFAULT 7;
INSERT INTO t (a) VALUES (3);
SELECT id, b FROM t;
--> rows
-->   1 | 7
-->   2 | 7
-->   3 | 7
--# case F031-04 11.11 ALTER TABLE ADD COLUMN
ALTER TABLE pair ADD COLUMN c INTEGER DEFAULT 7;
SELECT COUNT(*) FROM pair WHERE c = 7;
--> value 6
ALTER TABLE pair ADD d DATE;
SELECT COUNT(*) FROM pair WHERE d IS NULL;
--> value 6
ALTER TABLE pair ADD COLUMN a INTEGER;
--> fails 42701
ALTER TABLE pair ADD COLUMN e INTEGER NOT NULL;
--> fails 23502
--# case F031-04 11.11 rows that are there take the default
ALTER TABLE pair ADD COLUMN c VARCHAR(3) DEFAULT 'x' NOT NULL;
SELECT COUNT(*), MIN(c) FROM pair;
--> rows
-->   6 | 'x'