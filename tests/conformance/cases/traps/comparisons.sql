-- Comparisons of rows and with subqueries, of all types; names with schemas; groups within larger expressions.
--# case subqueries, rows, groups and schemas
CREATE TABLE a (d DECIMAL(6,2), s VARCHAR(5), c CHAR(3), i INTEGER, f DOUBLE PRECISION, x INTEGER NOT NULL, b BOOLEAN NOT NULL);
CREATE TABLE b2 (d DECIMAL(6,2), s VARCHAR(9), c CHAR(5), i SMALLINT, f REAL, x BIGINT);
INSERT INTO a VALUES (1.5,'ab','ab',1,1.5,1,TRUE),(2,'cd','cd',2,2,2,FALSE),(NULL,NULL,NULL,NULL,NULL,3,TRUE);
--> change a +3
INSERT INTO b2 VALUES (1.5,'ab','ab',1,1.5,1),(3,'x','x',3,3,3);
--> change b2 +2
SELECT 1 FROM a WHERE d IN (SELECT d FROM b2);
--> value 1
SELECT 1 FROM a WHERE s IN (SELECT s FROM b2);
--> value 1
SELECT 1 FROM a WHERE c IN (SELECT c FROM b2);
--> value 1
SELECT 1 FROM a WHERE s IN (SELECT c FROM b2);
--> value 1
SELECT 1 FROM a WHERE c IN (SELECT s FROM b2);
--> value 1
SELECT 1 FROM a WHERE f IN (SELECT i FROM b2);
--> no rows
SELECT 1 FROM a WHERE i IN (SELECT f FROM b2);
--> no rows
SELECT 1 FROM a WHERE i IN (VALUES (1.5), (2));
--> value 1
SELECT 1 FROM a WHERE i IN (SELECT NULL FROM b2);
--> no rows
SELECT x FROM a WHERE (i, d) = ANY (SELECT i, d FROM b2);
--> value 1
SELECT x FROM a WHERE (i, d) < ANY (SELECT i, d FROM b2);
--> rows in any order
-->   1
-->   2
SELECT x FROM a WHERE (i, d) <> ALL (SELECT i, d FROM b2);
--> value 2
SELECT x FROM a WHERE d >= ALL (SELECT i FROM b2);
--> no rows
SELECT (SELECT COUNT(*) FROM a), COUNT(*) FROM b2;
--> rows in any order
-->   3 | 2
SELECT x, COUNT(*) FROM a GROUP BY x HAVING COUNT(*) = (SELECT COUNT(*)-1 FROM b2);
--> rows in any order
-->   1 | 1
-->   2 | 1
-->   3 | 1
SELECT x, ROW_NUMBER() OVER (ORDER BY x), (SELECT MAX(n) FROM (SELECT ROW_NUMBER() OVER (ORDER BY x) AS n FROM b2) q) FROM a;
--> rows
-->   1 | 1 | 2
-->   2 | 2 | 2
-->   3 | 3 | 2
SELECT x, ROW_NUMBER() OVER (ORDER BY x DESC), (SELECT ROW_NUMBER() OVER (ORDER BY 1) FROM b2 WHERE b2.x=1) FROM a;
--> rows
-->   1 | 3 | 1
-->   2 | 2 | 1
-->   3 | 1 | 1
SELECT (x + 1) * 2 FROM a GROUP BY x + 1;
--> rows in any order
-->   4
-->   6
-->   8
SELECT d*2 FROM a GROUP BY d * 2 HAVING d * 2 > 3;
--> value 4.00
SELECT x + 1, COUNT(*) FROM a GROUP BY ROLLUP (x);
--> rows in any order
-->   NULL | 3
-->   2 | 1
-->   3 | 1
-->   4 | 1
SELECT x FROM a GROUP BY ROLLUP (x) HAVING (x > 1) IS UNKNOWN;
--> value NULL
SELECT NOT b, COUNT(*) FROM a GROUP BY ROLLUP (b);
--> rows in any order
-->   NULL | 3
-->   FALSE | 2
-->   TRUE | 1
SELECT (x+1)+1, COUNT(*), SUM(x+1) FROM a GROUP BY CUBE (x+1, b);
--> rows in any order
-->   NULL | 3 | 9
-->   3 | 1 | 2
-->   NULL | 2 | 6
-->   3 | 1 | 2
-->   4 | 1 | 3
-->   NULL | 1 | 3
-->   4 | 1 | 3
-->   5 | 1 | 4
-->   5 | 1 | 4
SELECT x, (SELECT MAX(b2.x + a.x) FROM b2) FROM a GROUP BY ROLLUP(x);
--> rows in any order
-->   NULL | NULL
-->   1 | 4
-->   2 | 5
-->   3 | 6
SELECT x, (SELECT COUNT(*) FROM b2 WHERE b2.x = a.x) FROM a GROUP BY ROLLUP(x);
--> rows in any order
-->   NULL | 0
-->   1 | 1
-->   2 | 0
-->   3 | 1
SELECT 1 WHERE (1, NULL) BETWEEN (1, 2) AND (2, 3);
--> no rows
SELECT CASE (1, CAST('a' AS CHAR(3))) WHEN (1, 'a') THEN 'y' ELSE 'n' END;
--> value 'y'
SELECT (1, CAST(NULL AS INTEGER)) BETWEEN (0, 1) AND (2, 2);
--> value TRUE
SELECT (1, CAST('b' AS CHAR(3))) BETWEEN (1, 'b') AND (1,'b');
--> value TRUE
SELECT LPAD('a', 5) || '|', RPAD('a', 5) || '|', LOG10(1000), LOG10(100.0), 1/LOG10(100.0);
--> rows in any order
-->   '    a|' | 'a    |' | 3 | 2 | 0.5
SELECT CAST('zz' AS VARBINARY(4));
--> fails 22018
SELECT SUM(x + (SELECT MIN(x) FROM b2 WHERE b2.x >= a.x OR a.x > 0)) FROM a GROUP BY x;
--> rows in any order
-->   2
-->   3
-->   4
CREATE SCHEMA e;
CREATE SCHEMA w;
CREATE TABLE e.t (a INTEGER);
CREATE TABLE w.t (a INTEGER);
INSERT INTO e.t VALUES (1),(2);
--> change e.t +2
INSERT INTO w.t VALUES (2);
--> change w.t +1
SELECT nosuch.t.a FROM e.t;
--> fails 42703
SELECT e.t.a, w.t.a FROM e.t, w.t;
--> rows in any order
-->   1 | 2
-->   2 | 2
SELECT t.a FROM e.t, w.t;
--> fails 42702
SELECT e.t.*, w.t.* FROM e.t JOIN w.t ON e.t.a = w.t.a;
--> rows in any order
-->   2 | 2
DELETE FROM e.t WHERE EXISTS (SELECT 1 FROM w.t WHERE w.t.a = e.t.a);
--> change e.t -1
SELECT e.t.a, glimb.e.t.a, nope.e.t.a FROM e.t;
--> fails 42703
SELECT e.t.a, glimb.e.t.a FROM e.t;
--> rows in any order
-->   1 | 1
SELECT x.a FROM e.t AS x WHERE e.t.a = 1;
--> fails 42703
SELECT project.a.x FROM a;
--> rows in any order
-->   1
-->   2
-->   3
--# case queries of one row-typed column
CREATE TABLE rowed (r ROW(x INTEGER, y INTEGER), n INTEGER);
INSERT INTO rowed VALUES (ROW(1, 2), 5), (NULL, 6);
--> change rowed +2
SELECT 1 WHERE (1, 2) IN (SELECT r FROM rowed);
--> value 1
SELECT 1 WHERE (1, 3) IN (SELECT r FROM rowed WHERE n = 5);
--> no rows
SELECT 1 WHERE (1, 2) = ANY (SELECT r FROM rowed);
--> value 1
SELECT 1 FROM rowed WHERE (r, n) IN (SELECT r, n FROM rowed);
--> value 1
SELECT 1 WHERE (1, 2, 3) IN (SELECT r FROM rowed);
--> fails 42601
SELECT n FROM rowed WHERE r = (SELECT r FROM rowed WHERE n = 5);
--> value 5
--# case arrays beside NULL
SELECT x = ARRAY[1], ARRAY[1] = x, x = x, x <> ARRAY[1] FROM (VALUES (CAST(NULL AS INTEGER ARRAY[3]))) AS v (x);
--> rows
-->   NULL | NULL | NULL | NULL
SELECT ARRAY[1, NULL] = ARRAY[1, 2], ARRAY[1, NULL] = ARRAY[2, NULL], ARRAY[1] = ARRAY[1, NULL], ARRAY[CAST('a' AS CHAR(2))] = ARRAY[CAST('a' AS CHAR(3))];
--> rows
-->   NULL | FALSE | FALSE | TRUE
