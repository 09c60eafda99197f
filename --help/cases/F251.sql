--# case F251 11.34 domains
CREATE DOMAIN altitude AS INTEGER DEFAULT 1000 CONSTRAINT sane CHECK (VALUE BETWEEN 0 AND 9000);
CREATE TABLE pass (name VARCHAR(20), height altitude);
INSERT INTO pass VALUES ('Orr', 2400), ('Hule', NULL);
INSERT INTO pass (name) VALUES ('Tal');
SELECT height FROM pass ORDER BY name;
--> rows
-->   NULL
-->   2400
-->   1000
INSERT INTO pass VALUES ('X', 9001);
--> fails 23514
SELECT CAST(5 AS altitude), CAST(NULL AS altitude);
--> rows
-->   5 | NULL
SELECT CAST(-1 AS altitude);
--> fails 23514
DROP DOMAIN altitude;
--> fails 42893
ALTER DOMAIN altitude SET DEFAULT 1;
CREATE TABLE q (h altitude);
INSERT INTO q DEFAULT VALUES;
SELECT h FROM q;
--> value 1
ALTER DOMAIN altitude SET DEFAULT 3;
INSERT INTO q DEFAULT VALUES;
ALTER DOMAIN altitude DROP DEFAULT;
INSERT INTO q DEFAULT VALUES;
SELECT h FROM q;
--> rows
-->   1
-->   3
-->   3
ALTER DOMAIN altitude ADD CONSTRAINT even CHECK (MOD(VALUE, 2) = 0);
--> fails 23514
DELETE FROM q;
ALTER DOMAIN altitude ADD CONSTRAINT even CHECK (MOD(VALUE, 2) = 0);
INSERT INTO pass VALUES ('Y', 3);
--> fails 23514
ALTER DOMAIN altitude DROP CONSTRAINT even;
INSERT INTO pass VALUES ('Y', 3);
--> change pass +1
--# case F251 11.34 a domain's constraint names it when it refuses
CREATE DOMAIN d AS INTEGER CONSTRAINT positive CHECK (VALUE > 0);
CREATE TABLE t (n d);
INSERT INTO t VALUES (NULL);
--> change t +1
INSERT INTO t VALUES (0);
--> fails 23514 like '%positive%'
UPDATE t SET n = -1;
--> fails 23514
--# case F251 11.34 a column's own default comes before that of its domain
CREATE DOMAIN d AS INTEGER DEFAULT 1;
CREATE TABLE t (n d DEFAULT 2, m d);
INSERT INTO t DEFAULT VALUES;
SELECT n, m FROM t;
--> rows
-->   2 | 1
--# case F251 11.34 CHECKs without a name are numbered
CREATE DOMAIN d AS INTEGER CHECK (VALUE > 0) CHECK (VALUE < 9);
CREATE TABLE t (n d);
INSERT INTO t VALUES (0);
--> fails 23514 like '%d_check)%'
INSERT INTO t VALUES (9);
--> fails 23514 like '%d_check2)%'