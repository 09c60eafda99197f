--# case F032 11.31 DROP CASCADE drops what depends on it
CREATE VIEW v AS SELECT a FROM pair;
CREATE VIEW w AS SELECT a FROM v WHERE a IS NOT NULL;
DROP TABLE pair;
--> fails 42893
DROP TABLE pair CASCADE;
SELECT 1 FROM w;
--> fails 42704
DROP TABLE guest CASCADE;
INSERT INTO stay VALUES (50, 'VARN', 999, NULL, NULL);
--> change stay +1
--# case F032 11.61 CASCADE takes from tables and domains what names a function or a sequence: constraints, defaults, computed columns
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER RETURN n + 1;
CREATE SEQUENCE q;
CREATE DOMAIN d AS INTEGER DEFAULT 4 CHECK (f(VALUE) > 0);
CREATE TABLE t (id INTEGER DEFAULT NEXT VALUE FOR q, a INTEGER DEFAULT f(1) CHECK (f(a) > 0), c INTEGER GENERATED ALWAYS AS (f(a)), e d, CHECK (a < 5));
CREATE VIEW v AS SELECT c FROM t;
DROP FUNCTION f;
--> fails 42893
DROP FUNCTION f CASCADE;
DROP SEQUENCE q CASCADE;
INSERT INTO t (e) VALUES (-9);
INSERT INTO t (a) VALUES (5);
--> fails 23514
INSERT INTO t VALUES (1, -8, DEFAULT);
SELECT * FROM t;
--> rows
-->   NULL | NULL | -9
-->   1 | -8 | 4
SELECT 1 FROM v;
--> fails 42704
--# case F032 11.31 CASCADE drops the views over the table, and constraints that refer to it
CREATE VIEW v AS SELECT code FROM hut;
DROP TABLE hut CASCADE;
SELECT 1 FROM v;
--> fails 42704
INSERT INTO stay VALUES (70, 'NONE', NULL, NULL, NULL);
--> change stay +1