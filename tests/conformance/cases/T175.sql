-- T175 Generated columns
--# case generated columns
CREATE TABLE t (a INTEGER, b INTEGER, total INTEGER GENERATED ALWAYS AS (a + b));
INSERT INTO t (a, b) VALUES (1, 2), (1, NULL);
UPDATE t SET b = 10 WHERE b = 2;
SELECT total FROM t ORDER BY total;
--> rows
-->   11
-->   NULL
INSERT INTO t VALUES (1, 2, 3);
--> fails 428C9
UPDATE t SET total = 5;
--> fails 428C9
CREATE TABLE u (a INTEGER, b INTEGER GENERATED ALWAYS AS (c));
--> fails 42703

--# case a NULL that a constraint would refuse reaches the expression first
CREATE TABLE doubled (v INTEGER NOT NULL CHECK (v > 0), w INTEGER GENERATED ALWAYS AS (v * 2));
INSERT INTO doubled (v) VALUES (NULL);
--> fails 23502
INSERT INTO doubled (v) VALUES (3);
UPDATE doubled SET v = NULL;
--> fails 23502
SELECT w FROM doubled;
--> value 6
