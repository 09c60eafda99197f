-- One case for each SQLSTATE, which is its title; docs/sqlstates.md shows the last statement of each that fails.
--# case 02000
CREATE PROCEDURE p() BEGIN DECLARE EXIT HANDLER FOR SQLSTATE '02000' RESIGNAL SQLSTATE '45002'; DELETE FROM pair WHERE a = 99; END;
CALL p();
--> fails 45002
--# case 07001
EXECUTE IMMEDIATE 'SELECT ?';
--> fails 07001
--# case 07005
CREATE PROCEDURE p() BEGIN DECLARE c CURSOR FOR s; PREPARE s FROM 'DELETE FROM pair'; OPEN c; END;
CALL p();
--> fails 07005
--# case 07008
CREATE PROCEDURE p() BEGIN DECLARE x, y INTEGER; PREPARE s FROM 'SELECT 1'; EXECUTE s INTO x, y; END;
CALL p();
--> fails 07008
--# case 07009
ALLOCATE DESCRIPTOR 'd' WITH MAX 3;
SET DESCRIPTOR 'd' VALUE 4 DATA = 1;
--> fails 07009
--# case 0A000
SELECT SUM(DISTINCT a) OVER () FROM pair;
--> fails 0A000
--# case 0K000
CREATE PROCEDURE p() RESIGNAL;
CALL p();
--> fails 0K000
--# case 0Z002
CREATE PROCEDURE p(OUT x CHAR(5)) GET STACKED DIAGNOSTICS CONDITION 1 x = RETURNED_SQLSTATE;
CALL p(?);
--> fails 0Z002
--# case 20000
CREATE PROCEDURE p(IN n INTEGER) CASE n WHEN 1 THEN CALL note('one'); END CASE;
CALL p(2);
--> fails 20000
--# case 21000
SELECT (SELECT a FROM pair);
--> fails 21000
--# case 22001
INSERT INTO hut VALUES ('TOOLONG', 'x', 1, 1, NULL);
--> fails 22001
--# case 22003
SELECT 2147483647 + 1;
--> fails 22003
--# case 22004
SELECT a FROM pair FETCH FIRST NULL ROWS ONLY;
--> fails 22004
--# case 22007
SELECT DATE '14.07.2031';
--> fails 22007
--# case 22008
SELECT DATE '2031-02-30';
--> fails 22008
--# case 22011
SELECT SUBSTRING('Varn' FROM 2 FOR -1);
--> fails 22011
--# case 22012
SELECT 1 / 0;
--> fails 22012
--# case 22013
SELECT SUM(a) OVER (ORDER BY a ROWS -1 PRECEDING) FROM pair;
--> fails 22013
--# case 22014
SELECT NTILE(0) OVER (ORDER BY a) FROM pair;
--> fails 22014
--# case 22016
SELECT NTH_VALUE(a, 0) OVER (ORDER BY a) FROM pair;
--> fails 22016
--# case 22018
SELECT CAST('twelve' AS INTEGER);
--> fails 22018
--# case 22019
SELECT 'a' LIKE 'a' ESCAPE 'xy';
--> fails 22019
--# case 2200C
SELECT SUBSTRING('abc' SIMILAR 'abc' ESCAPE '#');
--> fails 2200C
--# case 2200H
CREATE SEQUENCE s MAXVALUE 1;
SELECT NEXT VALUE FOR s;
SELECT NEXT VALUE FOR s;
--> fails 2200H
--# case 2201B
SELECT 'a' SIMILAR TO '(a';
--> fails 2201B
--# case 2201E
SELECT LN(0);
--> fails 2201E
--# case 2201F
SELECT SQRT(-1);
--> fails 2201F
--# case 2201G
SELECT WIDTH_BUCKET(1, 5, 5, 3);
--> fails 2201G
--# case 2201W
SELECT a FROM pair FETCH FIRST -1 ROWS ONLY;
--> fails 2201W
--# case 2201X
SELECT a FROM pair OFFSET -1 ROWS;
--> fails 2201X
--# case 22025
SELECT 'a' LIKE '!a' ESCAPE '!';
--> fails 22025
--# case 22027
SELECT TRIM('ab' FROM 'abc');
--> fails 22027
--# case 2202E
SELECT ARRAY[1, 2][3];
--> fails 2202E
--# case 2202F
CREATE TABLE t (a INTEGER ARRAY[1]);
INSERT INTO t VALUES (ARRAY[1, 2]);
--> fails 2202F
--# case 23001
CREATE TABLE child (code CHAR(4) REFERENCES hut ON DELETE RESTRICT);
INSERT INTO child VALUES ('VARN');
DELETE FROM hut WHERE code = 'VARN';
--> fails 23001
--# case 23502
INSERT INTO hut (code) VALUES ('AAAA');
--> fails 23502
--# case 23503
INSERT INTO stay VALUES (9, 'NONE', NULL, NULL, NULL);
--> fails 23503
--# case 23505
INSERT INTO hut VALUES ('VARN', 'again', 1, 1, NULL);
--> fails 23505
--# case 23514
INSERT INTO hut VALUES ('AAAA', 'x', 1, -1, NULL);
--> fails 23514
--# case 24000
CREATE PROCEDURE p() BEGIN DECLARE c CURSOR FOR SELECT 1; CLOSE c; END;
CALL p();
--> fails 24000
--# case 25001
START TRANSACTION;
SET TRANSACTION READ ONLY;
--> fails 25001
--# case 25006
START TRANSACTION READ ONLY;
DELETE FROM pair;
--> fails 25006
--# case 26000
EXECUTE missing;
--> fails 26000
--# case 33000
DEALLOCATE DESCRIPTOR 'none';
--> fails 33000
--# case 34000
CREATE PROCEDURE p() CLOSE 'none';
CALL p();
--> fails 34000
--# case 2D000
CREATE PROCEDURE ends() COMMIT;
CREATE PROCEDURE p() BEGIN ATOMIC CALL ends(); END;
CALL p();
--> fails 2D000
--# case 2F002
CREATE PROCEDURE p() READS SQL DATA EXECUTE IMMEDIATE 'DELETE FROM pair';
CALL p();
--> fails 2F002
--# case 2F004
CREATE PROCEDURE p() CONTAINS SQL EXECUTE IMMEDIATE 'SELECT a FROM pair';
CALL p();
--> fails 2F004
--# case 2F005
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE x INTEGER; END;
SELECT f();
--> fails 2F005
--# case 35000
CREATE PROCEDURE p(OUT x INTEGER) GET DIAGNOSTICS CONDITION 2 x = CONDITION_NUMBER;
CALL p(?);
--> fails 35000
--# case 3B001
ROLLBACK TO SAVEPOINT nowhere;
--> fails 3B001
--# case 3F000
SET SCHEMA 'attic';
--> fails 3F000
--# case 40001
--# session a isolation repeatable read
SELECT COUNT(*) FROM guest;
--# session b
UPDATE guest SET member = NULL WHERE id = 101;
COMMIT;
--# session a
UPDATE guest SET member = TRUE WHERE id = 101;
--> fails 40001
--# case 40002
CREATE TABLE t (g INTEGER REFERENCES guest INITIALLY DEFERRED);
INSERT INTO t VALUES (999);
COMMIT;
--> fails 40002
--# case 42601
SELECT 1 +;
--> fails 42601
--# case 42612
CREATE PROCEDURE p() BEGIN ATOMIC COMMIT; END;
--> fails 42612
--# case 42701
SELECT 1 FROM pair p, hut p;
--> fails 42701
--# case 42702
SELECT a FROM pair p, pair q;
--> fails 42702
--# case 42703
SELECT nmae FROM hut;
--> fails 42703
--# case 42704
SELECT 1 FROM hutt;
--> fails 42704
--# case 42710
CREATE TABLE hut (a INTEGER);
--> fails 42710
--# case 42725
CREATE FUNCTION f(a INTEGER) RETURNS INTEGER RETURN a;
CREATE FUNCTION f(a DATE) RETURNS DATE RETURN a;
DROP FUNCTION f;
--> fails 42725
--# case 42803
SELECT a, SUM(b) FROM pair;
--> fails 42803
--# case 42804
SELECT DATE '2031-07-14' = 5;
--> fails 42804
--# case 42807
CREATE VIEW v AS SELECT SUM(a) AS total FROM pair;
DELETE FROM v;
--> fails 42807
--# case 42809
CREATE FUNCTION f() RETURNS INTEGER RETURN 1;
CALL f();
--> fails 42809
--# case 42828
CREATE PROCEDURE p() BEGIN DECLARE c CURSOR FOR SELECT SUM(a) FROM pair; DELETE FROM pair WHERE CURRENT OF c; END;
--> fails 42828
--# case 42829
CREATE PROCEDURE p() BEGIN DECLARE c CURSOR FOR SELECT a FROM pair FOR UPDATE OF a; UPDATE pair SET b = 1 WHERE CURRENT OF c; END;
--> fails 42829
--# case 42830
CREATE TABLE t (a INTEGER REFERENCES pair);
--> fails 42830
--# case 42883
SELECT UPER('a');
--> fails 42883
--# case 42884
SELECT UPPER(1);
--> fails 42884
--# case 42893
DROP TABLE hut;
--> fails 42893
--# case 428C9
CREATE TABLE t (id INTEGER GENERATED ALWAYS AS IDENTITY);
INSERT INTO t VALUES (1);
--> fails 428C9
--# case 42985
CREATE FUNCTION f() RETURNS INTEGER CONTAINS SQL RETURN (SELECT MAX(a) FROM pair);
--> fails 42985
--# case 44000
CREATE VIEW v AS SELECT a FROM pair WHERE a < 5 WITH CHECK OPTION;
INSERT INTO v VALUES (9);
--> fails 44000
--# case 45000
CREATE PROCEDURE p() BEGIN DECLARE full_house CONDITION; SIGNAL full_house; END;
CALL p();
--> fails 45000
--# case 54001
SELECT COUNT(*) FROM pair GROUP BY CUBE (a, b, a, b, a, b, a, b, a, b);
--> fails 54001
--# case 5B001
CREATE PROCEDURE p() LOOP SET x = 1; END LOOP;
--> fails 42703
CREATE PROCEDURE p() BEGIN DECLARE x INTEGER; LOOP SET x = 1; END LOOP; END;
CALL p();
--> fails 5B001
--# case 5B003
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER RETURN 1;
CREATE OR REPLACE FUNCTION f(n INTEGER) RETURNS INTEGER RETURN f(n + 1);
SELECT f(1);
--> fails 5B003
--# case 5B004
WITH RECURSIVE r (n) AS (SELECT 1 UNION ALL SELECT n FROM r) SELECT COUNT(*) FROM r;
--> fails 5B004
--# case 5L001
--# session a
UPDATE guest SET member = NULL WHERE id = 101;
--# session b
SELECT id FROM guest WHERE id = 101 FOR UPDATE NOWAIT;
--> fails 5L001
--# case 5L002
--# session a
UPDATE guest SET member = NULL WHERE id = 101;
--# session b
SELECT id FROM guest WHERE id = 101 FOR UPDATE WAIT 5;
--> waits for a
--# wait 5s
--# session b
--> fails 5L002
ROLLBACK;
--# case 5L003
--# session a
UPDATE guest SET born = NULL WHERE id = 104;
--# session b
DELETE FROM guest WHERE id = 104;
--> waits for a
SELECT 1;
--> fails 5L003
--# session a
ROLLBACK;
