--# case T175 11.4 generated columns
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
--# case T175 11.4 a NULL that a constraint would refuse reaches the expression first
CREATE TABLE doubled (v INTEGER NOT NULL CHECK (v > 0), w INTEGER GENERATED ALWAYS AS (v * 2));
INSERT INTO doubled (v) VALUES (NULL);
--> fails 23502
INSERT INTO doubled (v) VALUES (3);
UPDATE doubled SET v = NULL;
--> fails 23502
SELECT w FROM doubled;
--> value 6
--# case T175 11.4 a generated column follows its columns
CREATE TABLE t (a INTEGER, b INTEGER GENERATED ALWAYS AS (a * 2));
INSERT INTO t (a) VALUES (2), (NULL);
UPDATE t SET a = a + 1;
SELECT b FROM t ORDER BY b;
--> rows
-->   6
-->   NULL
INSERT INTO t VALUES (1, 2);
--> fails 428C9
UPDATE t SET b = DEFAULT;
--> count 2
--# case T175 11.4 a generated column that is written without a type has that of its expression
CREATE TABLE u (a DECIMAL(6, 2), b GENERATED ALWAYS AS (a * 2), c GENERATED ALWAYS AS (CAST(a AS VARCHAR(9)) || '!') UNIQUE);
INSERT INTO u (a) VALUES (1.25), (NULL);
SELECT b, c FROM u ORDER BY c;
--> rows
-->   2.50 | '1.25!'
-->   NULL | NULL
ALTER TABLE u ADD COLUMN d GENERATED ALWAYS AS (a > 1);
SELECT COUNT(*) FROM u WHERE d;
--> value 1
CREATE TABLE v (a INTEGER, b GENERATED ALWAYS AS (NULL));
--> fails 42804
CREATE TABLE v (a INTEGER, b GENERATED ALWAYS AS IDENTITY);
--> fails 42601
CREATE TABLE v (a INTEGER, b GENERATED ALWAYS AS (c), c GENERATED ALWAYS AS (a));
--> fails 42703
--# case T175 11.4 a generated column is not made of another
CREATE TABLE t (a INTEGER, b INTEGER GENERATED ALWAYS AS (a + 1), c INTEGER GENERATED ALWAYS AS (b + 1));
--> fails 42601
--# case T175 11.4 it has no default
CREATE TABLE t (a INTEGER DEFAULT 1 GENERATED ALWAYS AS IDENTITY);
--> fails 42601