--# case S011 11.51 distinct types are not compared with others
CREATE TYPE metres AS INTEGER FINAL;
CREATE TABLE peak (name VARCHAR(20), height metres);
INSERT INTO peak VALUES ('Orr', CAST(3120 AS metres)), ('Hule', NULL);
SELECT name FROM peak WHERE height = CAST(3120 AS metres);
--> value 'Orr'
SELECT CAST(height AS INTEGER) + 1 FROM peak ORDER BY name;
--> rows
-->   NULL
-->   3121
SELECT name FROM peak WHERE height > 3000;
--> fails 42804
INSERT INTO peak VALUES ('Tal', 5);
--> fails 42804
SELECT height + height FROM peak;
--> fails 42804
CREATE FUNCTION taller(a metres, b metres) RETURNS metres RETURN CASE WHEN a > b THEN a ELSE b END;
SELECT CAST(taller(CAST(1 AS metres), CAST(2 AS metres)) AS INTEGER);
--> value 2
DROP TYPE metres;
--> fails 42893
--# case S011 11.51 the cast that comes with the type
CREATE TYPE steps AS INTEGER FINAL;
CREATE TABLE walk (n steps);
INSERT INTO walk VALUES (steps(12)), (CAST(13 AS steps));
SELECT CAST(n AS INTEGER) FROM walk WHERE n = steps(13);
--> value 13
SELECT steps(DATE '2031-01-01');
--> fails 42804
--# case S011 11.51 a distinct type goes with none other, not even its own source
CREATE TYPE metres AS INTEGER FINAL;
CREATE TABLE t (h metres);
INSERT INTO t VALUES (CAST(5 AS metres)), (NULL);
SELECT COUNT(*) FROM t WHERE h = CAST(5 AS metres);
--> value 1
SELECT COUNT(*) FROM t WHERE h = 5;
--> fails 42804
SELECT CAST(h AS INTEGER) + 1 FROM t WHERE h IS NOT NULL;
--> value 6