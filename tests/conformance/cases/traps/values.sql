-- What is easy to get wrong about values.
--# case NOT IN with a NULL in the list is never true
SELECT COUNT(*) FROM pair WHERE a NOT IN (1, NULL);
--> value 0
SELECT COUNT(*) FROM pair WHERE NOT (a IN (1, NULL));
--> value 0
--# case NULL in CASE, CHECK, UNIQUE, GROUP BY, DISTINCT, set functions and concatenation
SELECT CASE NULL WHEN NULL THEN 'equal' ELSE 'not' END, COUNT(DISTINCT a), COUNT(*), SUM(a) FROM pair;
--> rows
-->   'not' | 3 | 6 | 8
SELECT COUNT(*) FROM (SELECT a FROM pair GROUP BY a) d;
--> value 4
SELECT 'x' || NULL || 'y', NULL || 'x' IS NULL;
--> rows
-->   NULL | TRUE
CREATE TABLE t (a INTEGER UNIQUE CHECK (a > 0));
INSERT INTO t VALUES (NULL), (NULL), (1);
--> change t +3
--# case types are checked before anything runs, and all wrong statements of a routine are told
CREATE PROCEDURE p() BEGIN INSERT INTO pair VALUES (1, 1); IF DATE '2031-01-01' = 5 THEN SET x = 1; END IF; SELECT nothing INTO y FROM pair; END;
--> fails 42804 like '%DATE cannot be compared with INTEGER%'
SELECT COUNT(*) FROM pair;
--> value 6
--# case overloads are told apart by the types of their arguments
CREATE FUNCTION f(a INTEGER) RETURNS VARCHAR(9) RETURN 'integer';
CREATE FUNCTION f(a DATE) RETURNS VARCHAR(9) RETURN 'date';
SELECT f(1), f(DATE '2031-01-01'), f(CAST(NULL AS DATE));
--> rows
-->   'integer' | 'date' | 'date'
--# case what lies between may leave the range, the result may not
SELECT 2147483647 + 1 - 1;
--> value 2147483647
CREATE FUNCTION big(n INTEGER) RETURNS INTEGER BEGIN DECLARE s SMALLINT; SET s = n; RETURN s; END;
SELECT big(32767);
--> value 32767
SELECT big(32768);
--> fails 22003
--# case DECIMAL has the scale of the standard's results
SELECT 1.50 + 2.255, 1.5 * 1.25, CAST(10 AS DECIMAL(5,2)) / 4, 1.00 / 3;
--> rows
-->   3.755 | 1.875 | 2.5 | 0.333333
SELECT 5 / CAST(0 AS DECIMAL(3,1));
--> fails 22012
--# case CHAR is padded, VARCHAR is not, blanks at the end may be cut
CREATE TABLE t (c CHAR(5), v VARCHAR(5));
INSERT INTO t VALUES ('ab', 'ab   '), ('x', 'x          ');
SELECT c || '|', v || '|', CHAR_LENGTH(c), CHAR_LENGTH(v) FROM t ORDER BY c;
--> rows
-->   'ab   |' | 'ab   |' | 5 | 5
-->   'x    |' | 'x    |' | 5 | 5
INSERT INTO t VALUES ('abcdef', NULL);
--> fails 22001
SELECT COUNT(*) FROM t WHERE c = 'ab';
--> value 1
--# case lengths are in characters
SELECT CHAR_LENGTH('höhe'), SUBSTRING('höhe' FROM 2 FOR 1), POSITION('h' IN 'öh');
--> rows
-->   4 | 'ö' | 2
--# case CURRENT_TIMESTAMP stands still within a statement, also in routines that it calls
--# clock 2031-07-14 12:00:00
CREATE FUNCTION moment() RETURNS TIMESTAMP RETURN CURRENT_TIMESTAMP;
SELECT COUNT(DISTINCT moment()), MIN(moment()) FROM pair;
--> rows
-->   1 | '2031-07-14 12:00:00'
--# case a text is not a number, a number is not a text
INSERT INTO pair VALUES ('1', 1);
--> fails 42804
SELECT CAST('1x' AS INTEGER);
--> fails 22018
SELECT 1 || 'a';
--> fails 42804

--# case rounding and extremes
SELECT ROUND(2.345, 2), ROUND(-2.5, 0), ROUND(15, -1), ROUND(2.5), ROUND(1.5, 5), ROUND(1.005, -70), ROUND(NULL, 1);
--> rows
-->   2.35 | -3 | 20 | 3 | 1.5 | 0 | NULL
SELECT TRUNCATE(2.349, 2), TRUNC(-9.99, 1), TRUNCATE(1.5, 5);
--> rows
-->   2.34 | -9.9 | 1.5
SELECT GREATEST(1, 3, 2), GREATEST(1, NULL), LEAST('b', 'a'), LEAST(2, 1.5);
--> rows
-->   3 | NULL | 'a' | 1.5
SELECT LEAST(1);
--> fails 42884

--# case blanks at the ends of elements, days that a month has not, functions that are words of the grammar
CREATE TABLE t (c CHAR(3) ARRAY[2], v VARCHAR(3) ARRAY[2]);
INSERT INTO t VALUES (ARRAY['a'], ARRAY['a ']);
SELECT c = ARRAY['a'], c = v, v = ARRAY['a'], ARRAY['a '] = ARRAY['a'] FROM t;
--> rows
-->   TRUE | TRUE | FALSE | FALSE
VALUES DATE '2031-03-31' - INTERVAL '1' MONTH;
--> fails 22008 like '%day 31 in month 2 of 2031%'
CREATE FUNCTION "Odd f" (n INTEGER) RETURNS INTEGER RETURN n + 1;
VALUES (LEFT('abc', 2), "Odd f"(1), REPLACE('abcab', 'ab', 'x'), REPLACE('abc', '', 'x'));
--> rows
-->   'ab' | 2 | 'xcx' | 'abc'
CREATE TABLE g (a INTEGER, b INTEGER GENERATED ALWAYS AS (a + 1));
ALTER TABLE g ALTER COLUMN b SET NOT NULL;
INSERT INTO g (a) VALUES (NULL);
--> fails 23502
ALTER TABLE g ALTER COLUMN b DROP NOT NULL;
INSERT INTO g (a) VALUES (NULL);
ALTER TABLE g ALTER COLUMN b DROP DEFAULT;
--> fails 42601 like '%what it is computed from%'

--# case the code of each type and interval in a descriptor (tables 27 and 28)
BEGIN
  DECLARE i INTEGER DEFAULT 1;
  DECLARE code, type INTEGER;
  DECLARE told VARCHAR(200) DEFAULT '';
  ALLOCATE DESCRIPTOR 'd' WITH MAX 40;
  PREPARE s FROM 'VALUES (INTERVAL ''1'' YEAR, INTERVAL ''1'' MONTH, INTERVAL ''1'' DAY, INTERVAL ''1'' HOUR, INTERVAL ''1'' MINUTE, INTERVAL ''1'' SECOND, INTERVAL ''1-1'' YEAR TO MONTH,
    INTERVAL ''1 1'' DAY TO HOUR, INTERVAL ''1 1:1'' DAY TO MINUTE, INTERVAL ''1 1:1:1'' DAY TO SECOND, INTERVAL ''1:1'' HOUR TO MINUTE, INTERVAL ''1:1:1'' HOUR TO SECOND,
    INTERVAL ''1:1'' MINUTE TO SECOND, DATE ''2031-01-01'', TIME ''10:00:00'', TIMESTAMP ''2031-01-01 00:00:00'',
    CAST(1 AS CHAR(1)), CAST(1 AS DECIMAL(3,1)), 1, CAST(1 AS SMALLINT), CAST(1 AS BIGINT), CAST(1 AS REAL), 1E0, CAST(''a'' AS VARCHAR(3)), TRUE,
    CAST(X''01'' AS BINARY(1)), X''01'', CAST(X''01'' AS BLOB), CAST(''a'' AS CLOB), ARRAY[1], ROW(1, 2))';
  DESCRIBE OUTPUT s USING SQL DESCRIPTOR 'd';
  WHILE i <= 31 DO
    GET DESCRIPTOR 'd' VALUE i code = DATETIME_INTERVAL_CODE, type = TYPE;
    SET told = told || CAST(type AS VARCHAR(2)) || ':' || COALESCE(CAST(code AS VARCHAR(2)), '-') || ' ';
    SET i = i + 1;
  END WHILE;
  CALL note(told);
END;
--> note '10:1 10:2 10:3 10:4 10:5 10:6 10:7 10:8 10:9 10:10 10:11 10:12 10:13 9:1 9:2 9:3 1:0 3:0 4:0 5:0 25:0 7:0 8:0 12:0 16:0 60:0 61:0 30:0 40:0 50:0 19:0 '
--# case arrays that are NULL, and parts that are
CREATE TABLE held (id INTEGER, a INTEGER ARRAY[3], b VARCHAR(3) ARRAY[2]);
INSERT INTO held VALUES (1, ARRAY[1, 2], ARRAY['x']), (2, NULL, NULL), (3, ARRAY[1, NULL], ARRAY['x ']), (4, ARRAY[1], NULL);
SELECT h.id, i.id, h.a = i.a, h.a <> i.a, h.b = i.b FROM held h JOIN held i ON h.id <= i.id ORDER BY h.id, i.id;
--> rows
-->   1 | 1 | TRUE  | FALSE | TRUE
-->   1 | 2 | NULL  | NULL  | NULL
-->   1 | 3 | NULL  | NULL  | FALSE
-->   1 | 4 | FALSE | TRUE  | NULL
-->   2 | 2 | NULL  | NULL  | NULL
-->   2 | 3 | NULL  | NULL  | NULL
-->   2 | 4 | NULL  | NULL  | NULL
-->   3 | 3 | NULL  | NULL  | TRUE
-->   3 | 4 | FALSE | TRUE  | NULL
-->   4 | 4 | TRUE  | FALSE | NULL
--# case what stands behind an escaped character of SIMILAR TO counts
SELECT 'a_bc' SIMILAR TO 'a\_bc' ESCAPE '\', 'a_xc' SIMILAR TO 'a\_bc' ESCAPE '\', 'a%%' SIMILAR TO 'a\%\%' ESCAPE '\', 'axc' SIMILAR TO '%\_%' ESCAPE '\';
--> rows
-->   TRUE | FALSE | TRUE | FALSE
SELECT 'a_bc' LIKE 'a\_bc' ESCAPE '\', 'a_xc' LIKE 'a\_bc' ESCAPE '\', 'ab' LIKE 'a\_' ESCAPE '\';
--> rows
-->   TRUE | FALSE | FALSE
--# case a frame by distance, with NULLs at one end and at the other
SELECT x, COUNT(*) OVER (ORDER BY x NULLS LAST RANGE BETWEEN 1 PRECEDING AND 1 FOLLOWING),
       COUNT(*) OVER (ORDER BY x NULLS FIRST RANGE BETWEEN 1 PRECEDING AND 1 FOLLOWING),
       COUNT(*) OVER (ORDER BY x DESC NULLS LAST RANGE BETWEEN 2 PRECEDING AND 1 PRECEDING)
  FROM (VALUES (1), (2), (NULL), (NULL), (5)) AS v (x) ORDER BY x NULLS LAST;
--> rows
-->   1 | 2 | 2 | 1
-->   2 | 2 | 2 | 0
-->   5 | 1 | 1 | 0
-->   NULL | 2 | 2 | 2
-->   NULL | 2 | 2 | 2
SELECT x, SUM(x) OVER (ORDER BY x NULLS LAST RANGE BETWEEN CURRENT ROW AND 3 FOLLOWING) FROM (VALUES (1), (NULL)) AS v (x) ORDER BY x NULLS LAST;
--> rows
-->   1 | 1
-->   NULL | NULL
--# case the first rows of what is distinct
SELECT DISTINCT a FROM (VALUES (3), (1), (3), (2), (1), (NULL)) AS v (a) ORDER BY a NULLS LAST FETCH FIRST 2 ROWS ONLY;
--> rows
-->   1
-->   2
SELECT DISTINCT a FROM (VALUES (3), (1), (3), (2), (1)) AS v (a) ORDER BY a DESC OFFSET 1 ROW FETCH FIRST 2 ROWS ONLY;
--> rows
-->   2
-->   1
SELECT DISTINCT a, b FROM (VALUES (3, 1), (1, 2), (3, 1), (1, 1)) AS v (a, b) ORDER BY b DESC, a FETCH FIRST 2 ROWS ONLY;
--> rows
-->   1 | 2
-->   1 | 1
--# case the codes of intervals in a descriptor
CREATE PROCEDURE codes(IN q VARCHAR(600)) BEGIN
  DECLARE n, code, kind, digits, i INTEGER DEFAULT 0;
  DECLARE told VARCHAR(200) DEFAULT '';
  ALLOCATE DESCRIPTOR 'd' WITH MAX 20;
  PREPARE s FROM q;
  DESCRIBE OUTPUT s USING DESCRIPTOR 'd';
  GET DESCRIPTOR 'd' n = COUNT;
  WHILE i < n DO
    SET i = i + 1;
    GET DESCRIPTOR 'd' VALUE i kind = TYPE, code = DATETIME_INTERVAL_CODE;
    SET told = told || CAST(kind AS VARCHAR(3)) || '.' || COALESCE(CAST(code AS VARCHAR(3)), '-') || ' ';
  END WHILE;
  DEALLOCATE DESCRIPTOR 'd';
  CALL note(told);
END;
CALL codes('SELECT INTERVAL ''1'' YEAR, INTERVAL ''1'' MONTH, INTERVAL ''1'' DAY, INTERVAL ''1'' HOUR, INTERVAL ''1'' MINUTE, INTERVAL ''1'' SECOND, INTERVAL ''1-1'' YEAR TO MONTH, INTERVAL ''1 1'' DAY TO HOUR, INTERVAL ''1 1:1'' DAY TO MINUTE, INTERVAL ''1 1:1:1'' DAY TO SECOND, INTERVAL ''1:1'' HOUR TO MINUTE, INTERVAL ''1:1:1'' HOUR TO SECOND, INTERVAL ''1:1'' MINUTE TO SECOND');
--> note '10.1 10.2 10.3 10.4 10.5 10.6 10.7 10.8 10.9 10.10 10.11 10.12 10.13 '
CALL codes('SELECT DATE ''2030-01-01'', TIME ''08:00:00'', TIMESTAMP ''2030-01-01 08:00:00'', 1, 1.5, ''x'', 1E0, TRUE');
--> note '9.1 9.2 9.3 4.0 3.0 12.0 8.0 16.0 '
CREATE FUNCTION through(code INTEGER) RETURNS VARCHAR(40) BEGIN
  DECLARE shown VARCHAR(40);
  ALLOCATE DESCRIPTOR 'i';
  SET DESCRIPTOR 'i' COUNT = 1;
  SET DESCRIPTOR 'i' VALUE 1 TYPE = 10, DATETIME_INTERVAL_CODE = code, DATA = '2';
  PREPARE s FROM 'SELECT CAST(v AS VARCHAR(40)) FROM (VALUES (?)) AS t (v)';
  EXECUTE s USING DESCRIPTOR 'i' INTO shown;
  DEALLOCATE DESCRIPTOR 'i';
  RETURN shown;
END;
SELECT through(1), through(2), through(3), through(4), through(5), through(6);
--# case the bytes of what a descriptor holds
CREATE PROCEDURE bytes(IN i INTEGER, OUT n INTEGER, OUT k INTEGER) BEGIN
  ALLOCATE DESCRIPTOR 'd' WITH MAX 5;
  PREPARE p FROM 'SELECT CAST(NULL AS VARCHAR(5)), ''é'', 5, CAST(NULL AS INTEGER) FROM (VALUES 1) AS v';
  DESCRIBE OUTPUT p USING DESCRIPTOR 'd';
  EXECUTE p INTO DESCRIPTOR 'd';
  GET DESCRIPTOR 'd' VALUE i n = RETURNED_OCTET_LENGTH, k = RETURNED_LENGTH;
  DEALLOCATE DESCRIPTOR 'd';
END;
CALL bytes(1, ?, ?);
--> value n = NULL
--> value k = NULL
CALL bytes(2, ?, ?);
--> value n = 2
--> value k = 1
CALL bytes(3, ?, ?);
--> value n = NULL
--> value k = NULL
--# case the code of each interval in a descriptor
CREATE PROCEDURE codes(OUT told VARCHAR(200)) BEGIN
  DECLARE i, code INTEGER DEFAULT 0;
  SET told = '';
  ALLOCATE DESCRIPTOR 'd' WITH MAX 20;
  PREPARE p FROM 'SELECT CAST(NULL AS INTERVAL YEAR), CAST(NULL AS INTERVAL MONTH), CAST(NULL AS INTERVAL DAY), CAST(NULL AS INTERVAL HOUR), CAST(NULL AS INTERVAL MINUTE), CAST(NULL AS INTERVAL SECOND), CAST(NULL AS INTERVAL YEAR TO MONTH), CAST(NULL AS INTERVAL DAY TO HOUR), CAST(NULL AS INTERVAL DAY TO MINUTE), CAST(NULL AS INTERVAL DAY TO SECOND), CAST(NULL AS INTERVAL HOUR TO MINUTE), CAST(NULL AS INTERVAL HOUR TO SECOND), CAST(NULL AS INTERVAL MINUTE TO SECOND) FROM (VALUES 1) AS v';
  DESCRIBE OUTPUT p USING DESCRIPTOR 'd';
  WHILE i < 13 DO
    SET i = i + 1;
    GET DESCRIPTOR 'd' VALUE i code = DATETIME_INTERVAL_CODE;
    SET told = told || ' ' || CAST(code AS VARCHAR(3));
  END WHILE;
  DEALLOCATE DESCRIPTOR 'd';
END;
CALL codes(?);
--> value told = ' 1 2 3 4 5 6 7 8 9 10 11 12 13'
--# case octets that are cut, columns whose type is that of what makes them, the name of a type
CREATE TABLE only_made (b GENERATED ALWAYS AS (1 + 1));
CREATE TABLE two_made (a INTEGER, b GENERATED ALWAYS AS (a * 1.5));
INSERT INTO two_made VALUES (2, DEFAULT);
SELECT a, b FROM two_made;
--> rows
-->   2 | 3.0
CREATE TYPE weight AS DECIMAL(4,1) FINAL;
CREATE TABLE weights (x weight, b VARBINARY(2), c BINARY(1));
SELECT data_type, user_defined_type_name FROM information_schema.columns WHERE table_name IN ('weights', 'only_made', 'WEIGHTS', 'ONLY_MADE') ORDER BY column_name, table_name;
--> rows
-->   'INTEGER'        | NULL
-->   'BINARY VARYING' | NULL
-->   'BINARY'         | NULL
-->   'USER-DEFINED'   | 'weight'
INSERT INTO weights (b, c) VALUES (X'01020000', X'0100'), (X'', X'');
SELECT b, c FROM weights;
--> rows
-->   X'0102' | X'01'
-->   X''     | X'00'
INSERT INTO weights (b) VALUES (X'010203');
--> fails 22001 like '%3 octets do not fit%'
SELECT 1 BETWEEN SYMMETRIC NULL AND 0, 3 BETWEEN SYMMETRIC 5 AND 2, NOT 1 BETWEEN SYMMETRIC NULL AND NULL;
--> rows
-->   NULL | TRUE | NULL
--# case a long text that is none is told by its beginning
VALUES CAST('xxx01234567890123456789012345678901234567890123456789' AS INTEGER);
--> fails 22018 like '''xxx0123456789012345678901234567890123456'' is no INTEGER%'
VALUES CAST('xxx01234567890123456789012345678901234567890123456789' AS DECIMAL(5,2));
--> fails 22018 like '''xxx0123456789012345678901234567890123456'' is no DECIMAL(5,2)%'
VALUES CAST('xxx01234567890123456789012345678901234567890123456789' AS DOUBLE PRECISION);
--> fails 22018 like '''xxx0123456789012345678901234567890123456'' is no DOUBLE PRECISION%'
VALUES CAST('xxx01234567890123456789012345678901234567890123456789' AS BOOLEAN);
--> fails 22018 like '''xxx0123456789012345678901234567890123456'' is no BOOLEAN%'
VALUES CAST('xxx01234567890123456789012345678901234567890123456789' AS DATE);
--> fails 22007 like '''xxx0123456789012345678901234567890123456'' is no DATE%'
VALUES CAST('xxx01234567890123456789012345678901234567890123456789' AS TIME);
--> fails 22007 like '''xxx0123456789012345678901234567890123456'' is no TIME%'
VALUES CAST('xxx01234567890123456789012345678901234567890123456789' AS TIMESTAMP);
--> fails 22007 like '''xxx0123456789012345678901234567890123456'' is no TIMESTAMP%'
VALUES CAST('xxx01234567890123456789012345678901234567890123456789' AS INTERVAL DAY TO SECOND);
--> fails 22007 like '''xxx0123456789012345678901234567890123456'' is no INTERVAL DAY TO SECOND%'
VALUES CAST('xxx01234567890123456789012345678901234567890123456789' AS SMALLINT);
--> fails 22018 like '''xxx0123456789012345678901234567890123456'' is no SMALLINT%'
--# case rounding far before and far behind the point
SELECT ROUND(15.5, -70), ROUND(15.5, -1), ROUND(-15.5, -2), ROUND(15.5, 70), ROUND(15, -60), ROUND(15, -61), TRUNCATE(15.5, -70);
--> rows
-->   0 | 20 | 0 | 15.5 | 0 | 0 | 0.0
--# case a decimal of which only the type is said
CREATE PROCEDURE described(OUT told VARCHAR(60))
BEGIN
  DECLARE p, s INTEGER;
  ALLOCATE DESCRIPTOR 'd';
  SET DESCRIPTOR 'd' COUNT = 1;
  SET DESCRIPTOR 'd' VALUE 1 TYPE = 3, DATA = 12;
  GET DESCRIPTOR 'd' VALUE 1 p = PRECISION, s = SCALE;
  SET told = CAST(p AS VARCHAR(5)) || ' ' || CAST(s AS VARCHAR(5));
END;
CALL described(?);
--> value told = '38 0'
--# case elements of arrays in a changed row, and frames of sums that do not fit
CREATE TABLE t (a INTEGER PRIMARY KEY, c INTEGER ARRAY[4], e ROW(x INTEGER, y INTEGER));
INSERT INTO t VALUES (1, ARRAY[1, 2], ROW(1, 2)), (2, NULL, NULL), (3, ARRAY[], ROW(NULL, 3));
UPDATE t SET c[2] = a + 5 WHERE a <> 2;
--> change t ~2
SELECT a, c FROM t ORDER BY a;
--> rows
-->   1 | ARRAY[1, 6]
-->   2 | NULL
-->   3 | ARRAY[NULL, 8]
UPDATE t SET c[2] = 7 WHERE a = 2;
--> fails 2200E
UPDATE t SET c[5] = 7 WHERE a = 1;
--> fails 2202E
UPDATE t SET c[0] = 7 WHERE a = 1;
--> fails 2202E
UPDATE t SET a[1] = 7;
--> fails 42804
UPDATE t SET c[1] = 'x';
--> fails 42804
UPDATE t SET (a, c) = (SELECT 1, 2, 3 FROM t);
--> fails 42601
UPDATE t SET (a, c) = (1, 2, 3);
--> fails 42601
SELECT LAG(a, CAST(NULL AS INTEGER)) OVER (ORDER BY a) FROM t;
--> rows
-->   NULL
-->   NULL
-->   NULL
SELECT AVG(x) OVER (ORDER BY x ROWS 1 PRECEDING EXCLUDE CURRENT ROW) FROM (VALUES 1, 2, 4) AS v (x);
--> rows
-->   NULL
-->   1.000000
-->   2.000000
SELECT SUM(x) OVER (ORDER BY n ROWS 1 PRECEDING) FROM (VALUES (1, 99999999999999999999999999999999999999), (2, 1)) AS v (n, x);
--> fails 22003
SELECT SUM(x) OVER (ORDER BY n ROWS 1 PRECEDING) FROM (VALUES (1, 1.7E308), (2, 1.7E308)) AS v (n, x);
--> fails 22003
SELECT AVG(x) OVER (ORDER BY n ROWS 1 PRECEDING EXCLUDE TIES) FROM (VALUES (1, INTERVAL '1' DAY), (2, INTERVAL '2' DAY), (2, INTERVAL '4' DAY)) AS v (n, x);
--> rows
-->   INTERVAL '1' DAY
-->   INTERVAL '2' DAY
-->   INTERVAL '4' DAY
SELECT MIN(x) OVER (ORDER BY n ROWS BETWEEN 2 PRECEDING AND 1 PRECEDING), MAX(x) OVER (ORDER BY n ROWS BETWEEN 1 PRECEDING AND 3 FOLLOWING EXCLUDE CURRENT ROW) FROM (VALUES (1, 4), (2, 9), (3, 2), (4, 7), (5, 5)) AS v (n, x);
--> rows
-->   NULL | 9
-->   4    | 7
-->   4    | 9
-->   2    | 5
-->   2    | 7
SELECT MIN(x) OVER (ORDER BY n RANGE BETWEEN 3 PRECEDING AND 1 FOLLOWING) FROM (VALUES (1, 4), (2, 9), (4, 2), (8, 7), (9, 5)) AS v (n, x);
--> rows
-->   4
-->   4
-->   2
-->   5
-->   5
--# case the average of intervals is one of their type, rounded to its last field
CREATE TABLE spans (d INTERVAL DAY, m INTERVAL MONTH, y INTERVAL YEAR, h INTERVAL DAY TO HOUR);
INSERT INTO spans VALUES (INTERVAL '1' DAY, INTERVAL '1' MONTH, INTERVAL '-1' YEAR, INTERVAL '1 00' DAY TO HOUR),
  (INTERVAL '2' DAY, INTERVAL '1' MONTH, INTERVAL '-2' YEAR, INTERVAL '1 01' DAY TO HOUR), (INTERVAL '1' DAY, INTERVAL '2' MONTH, INTERVAL '-2' YEAR, NULL);
SELECT AVG(d) = INTERVAL '1' DAY, AVG(m) = INTERVAL '1' MONTH, AVG(y) = INTERVAL '-2' YEAR, AVG(h) = INTERVAL '1 01' DAY TO HOUR FROM spans;
--> rows
-->   TRUE | TRUE | TRUE | TRUE
SELECT DISTINCT AVG(d) OVER () + INTERVAL '0' SECOND, AVG(m) OVER () + INTERVAL '0' YEAR, AVG(h) OVER () + INTERVAL '0' SECOND FROM spans;
--> rows
-->   INTERVAL '1 00:00:00' DAY TO SECOND | INTERVAL '0-01' YEAR TO MONTH | INTERVAL '1 01:00:00' DAY TO SECOND
--# case a REAL is written with the fewest digits that give it back
SELECT CAST(9.95354E15 AS REAL), CAST(9.80538E-07 AS REAL), CAST(0.1 AS REAL), CAST(16777216 AS REAL), CAST(3.4028235E38 AS REAL);
--> rows
-->   9.95354E15 | 9.80538E-7 | 1E-1 | 1.6777216E7 | 3.4028235E38
