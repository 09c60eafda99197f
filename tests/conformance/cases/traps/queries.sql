-- What is easy to get wrong about queries.
--# case a scalar subquery with two rows, SELECT INTO with none and with two
SELECT (SELECT a FROM pair WHERE a = 2);
--> fails 21000
CREATE PROCEDURE p(IN n INTEGER, OUT x INTEGER, OUT state CHAR(5)) BEGIN
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET state = '02000';
  SET x = -1;
  SELECT b INTO x FROM pair WHERE a = n;
END;
CALL p(99, ?, ?);
--> value x = -1
--> value state = '02000'
CALL p(2, ?, ?);
--> fails 21000
--# case a function is called in WHERE, SELECT, JOIN, CHECK, DEFAULT, by a table function, a procedure and a trigger
CREATE FUNCTION twice(n INTEGER) RETURNS INTEGER RETURN n * 2;
CREATE FUNCTION doubles(low INTEGER) RETURNS TABLE (n INTEGER) RETURN TABLE (SELECT twice(a) FROM pair WHERE twice(a) > low);
CREATE TABLE t (n INTEGER DEFAULT twice(4) CHECK (twice(n) < 100), m INTEGER);
CREATE TRIGGER tr BEFORE INSERT ON t REFERENCING NEW AS r FOR EACH ROW SET r.m = twice(r.n);
CREATE PROCEDURE fill(IN n INTEGER) INSERT INTO t (n) SELECT d.n FROM TABLE(doubles(n)) d;
SELECT p.a, twice(q.a) FROM pair p JOIN pair q ON p.a = twice(q.a) WHERE twice(p.a) = 4;
--> rows
-->   2 | 2
-->   2 | 2
CALL fill(2);
--> change t +3
INSERT INTO t (m) VALUES (NULL);
SELECT n, m FROM t ORDER BY n;
--> rows
-->   4 | 8
-->   4 | 8
-->   6 | 12
-->   8 | 16
INSERT INTO t (n) VALUES (50);
--> fails 23514
--# case quantified comparisons over nothing and over NULL
SELECT 1 > ALL (SELECT a FROM pair WHERE a > 99), 1 > ANY (SELECT a FROM pair WHERE a > 99), 5 > ALL (SELECT a FROM pair), 0 > ALL (SELECT a FROM pair);
--> rows
-->   TRUE | FALSE | NULL | FALSE
--# case row values in comparisons, with NULL deciding only where it must
SELECT (1, NULL) = (1, 2), (1, NULL) = (2, 2), (1, NULL) < (2, 0), (1, 2) IN ((1, NULL), (3, 4));
--> rows
-->   NULL | FALSE | TRUE | NULL
--# case a recursive query through a function
CREATE FUNCTION below(n INTEGER) RETURNS INTEGER RETURN CASE WHEN n > 1 THEN n - 1 END;
WITH RECURSIVE down (n) AS (SELECT 4 UNION ALL SELECT below(n) FROM down WHERE n IS NOT NULL) SELECT COUNT(*), COUNT(n) FROM down;
--> rows
-->   5 | 4
--# case window functions run behind grouping, and before DISTINCT and ORDER BY
SELECT hut, COUNT(*), RANK() OVER (ORDER BY COUNT(*) DESC), SUM(COUNT(*)) OVER () FROM stay GROUP BY hut ORDER BY 3;
--> rows
-->   'KOLM' | 3 | 1 | 6
-->   'VARN' | 2 | 2 | 6
-->   'SELT' | 1 | 3 | 6
SELECT DISTINCT COUNT(*) OVER (PARTITION BY hut) FROM stay ORDER BY 1;
--> rows
-->   1
-->   2
-->   3
--# case an outer join keeps its rows when a condition is on the inner side, WHERE takes them away
SELECT COUNT(*) FROM hut h LEFT JOIN stay s ON s.hut = h.code AND s.price > 40;
--> value 4
SELECT COUNT(*) FROM hut h LEFT JOIN stay s ON s.hut = h.code WHERE s.price > 40;
--> value 1
--# case an aggregate over no rows, with groups and without
SELECT COUNT(*), SUM(a) FROM pair WHERE FALSE;
--> rows
-->   0 | NULL
SELECT COUNT(*) FROM pair WHERE FALSE GROUP BY a;
--> no rows
--# case a correlated subquery in every clause
SELECT (SELECT COUNT(*) FROM stay s WHERE s.hut = h.code) AS n FROM hut h WHERE EXISTS (SELECT 1 FROM stay s WHERE s.hut = h.code) GROUP BY h.code HAVING (SELECT MAX(s.price) FROM stay s WHERE s.hut = h.code) IS NOT NULL ORDER BY (SELECT MIN(s.id) FROM stay s WHERE s.hut = h.code) DESC;
--> rows
-->   3
-->   2

--# case where SEARCH finds the table in the step
CREATE TABLE e (a INTEGER, b INTEGER);
INSERT INTO e VALUES (1, 2), (2, 3);
WITH RECURSIVE r (x) AS (VALUES (1) UNION ALL SELECT d.b FROM (SELECT e.b FROM e, r WHERE e.a = r.x) AS d) SELECT SUM(x) FROM r;
--> value 6
WITH RECURSIVE r (x) AS (VALUES (1) UNION ALL SELECT d.b FROM (SELECT e.b FROM e, r WHERE e.a = r.x) AS d) SEARCH DEPTH FIRST BY x SET o SELECT x FROM r;
--> fails 42601 like '%in its own FROM%'
WITH RECURSIVE r (x) AS (VALUES (1) UNION ALL (SELECT e.b FROM e, r WHERE e.a = r.x EXCEPT ALL SELECT 9 FROM e)) SEARCH DEPTH FIRST BY x SET o SELECT x FROM r;
--> fails 42601 like '%in its own FROM%'
--# case a step with CYCLE names its table in its own FROM
WITH RECURSIVE r (n) AS (VALUES 1 UNION ALL SELECT n + 1 FROM (SELECT n FROM r) AS d WHERE n < 3) CYCLE n SET c USING p SELECT n FROM r;
--> fails 42601
WITH RECURSIVE r (n) AS (VALUES 1 UNION ALL SELECT d.n + 1 FROM (VALUES 0) AS z (k) JOIN r AS d ON d.n > z.k WHERE n < 3) CYCLE n SET c USING p SELECT n, c, p FROM r ORDER BY n;
--> rows
-->   1 | FALSE | ARRAY[ROW(1)]
-->   2 | FALSE | ARRAY[ROW(1), ROW(2)]
-->   3 | FALSE | ARRAY[ROW(1), ROW(2), ROW(3)]
--# case the path of CYCLE is an array of rows like any other
BEGIN
  DECLARE way ROW(n INTEGER) ARRAY[9];
  SET way = (WITH RECURSIVE r (n) AS (VALUES 1 UNION ALL SELECT n + 1 FROM r WHERE n < 3) CYCLE n SET c USING p SELECT p FROM r WHERE n = 3);
  CALL note(CAST(way[3].n + CARDINALITY(way) AS VARCHAR(3)));
END;
--> note '6'
--# case a range ends before what is NULL
CREATE TABLE ranged (n INTEGER, v INTEGER);
INSERT INTO ranged VALUES (1, 1), (2, 2), (NULL, 4);
--> change ranged +3
SELECT n, SUM(v) OVER (ORDER BY n ASC NULLS LAST RANGE BETWEEN 5 PRECEDING AND 5 FOLLOWING) AS s FROM ranged ORDER BY n NULLS LAST;
--> rows in any order
-->   n    | s
-->   1    | 3
-->   2    | 3
-->   NULL | 4
SELECT n, SUM(v) OVER (ORDER BY n DESC NULLS LAST RANGE BETWEEN 5 PRECEDING AND 5 FOLLOWING) AS s FROM ranged;
--> rows in any order
-->   n    | s
-->   1    | 3
-->   2    | 3
-->   NULL | 4
--# case the star of a view over columns of one name
CREATE TABLE near (n INTEGER, v INTEGER);
CREATE TABLE far (n INTEGER, w INTEGER);
INSERT INTO near VALUES (1, 2);
--> change near +1
INSERT INTO far VALUES (3, 4);
--> change far +1
CREATE VIEW both_of (a, b, c, d) AS SELECT * FROM near CROSS JOIN far;
SELECT * FROM both_of;
--> rows
-->   1 | 2 | 3 | 4
CREATE VIEW one_of (a, b) AS SELECT far.* FROM near CROSS JOIN far;
SELECT * FROM one_of;
--> rows
-->   3 | 4
ALTER TABLE near ADD COLUMN z INTEGER DEFAULT 9;
SELECT * FROM both_of;
--> rows
-->   1 | 2 | 3 | 4
SELECT * FROM one_of;
--> rows
-->   3 | 4
--# case a recursion that comes twice in its step
WITH RECURSIVE r (n) AS (VALUES 1 UNION ALL (SELECT n + 1 FROM r WHERE n < 4 UNION ALL SELECT n + 2 FROM r WHERE n < 3)) SELECT n FROM r;
--> fails 42601
WITH RECURSIVE r (n) AS (VALUES 1 UNION (SELECT n + 1 FROM r WHERE n < 3 UNION ALL VALUES 9)) SELECT n FROM r;
--> rows in any order
-->   1
-->   2
-->   9
-->   3
WITH RECURSIVE r (n) AS (VALUES 1 UNION (SELECT n + 1 FROM r WHERE n < 4 EXCEPT SELECT 3 FROM (VALUES 1) AS v (x))) SELECT n FROM r;
--> rows in any order
-->   1
-->   2
WITH RECURSIVE r (n) AS (VALUES 1 UNION (VALUES 2, 3 EXCEPT SELECT n + 1 FROM r)) SELECT n FROM r;
--> fails 42601
WITH RECURSIVE r (n) AS (VALUES 1 UNION ALL (SELECT n + 1 FROM r WHERE n < 3 UNION ALL SELECT 9 FROM (VALUES 1) AS v (x) WHERE 1 = 0)) SEARCH DEPTH FIRST BY n SET o SELECT n FROM r;
--> fails 42601
WITH RECURSIVE r (n) AS (VALUES 1 UNION ALL SELECT n + 1 FROM (SELECT n FROM r) AS x WHERE n < 3) SEARCH DEPTH FIRST BY n SET o SELECT n FROM r;
--> fails 42601
WITH RECURSIVE r (n) AS (VALUES 1 UNION ALL SELECT n + 1 FROM r WHERE n < 3) SEARCH DEPTH FIRST BY n SET o SELECT n FROM r ORDER BY o;
--> rows
-->   1
-->   2
-->   3
--# case FILTER of a window over the first column, in frames that move and in one for all
CREATE TABLE flags (x BOOLEAN, n INTEGER);
INSERT INTO flags VALUES (TRUE, 1), (FALSE, 2), (NULL, 3), (TRUE, 4);
--> change flags +4
SELECT n, COUNT(*) FILTER (WHERE x) OVER (ORDER BY n),
  SUM(n) FILTER (WHERE x) OVER (ORDER BY n ROWS BETWEEN 1 PRECEDING AND CURRENT ROW),
  COUNT(*) FILTER (WHERE x) OVER (),
  MAX(n) FILTER (WHERE x) OVER (ORDER BY n ROWS BETWEEN CURRENT ROW AND 2 FOLLOWING EXCLUDE CURRENT ROW)
FROM flags;
--> rows in any order
-->   1 | 1 | 1    | 2 | NULL
-->   2 | 1 | 1    | 2 | 4
-->   3 | 1 | NULL | 2 | 4
-->   4 | 2 | 4    | 2 | NULL
--# case averages of numbers with digits behind the point, in frames that move
CREATE TABLE w (n INTEGER, d DECIMAL(6,2), f DOUBLE PRECISION);
INSERT INTO w VALUES (1, 1.25, 1.5), (2, 2.50, 2), (3, NULL, NULL), (4, 4.01, 4);
--> change w +4
SELECT n,
  AVG(d) OVER (ORDER BY n ROWS BETWEEN 1 PRECEDING AND CURRENT ROW),
  AVG(d) OVER (ORDER BY n ROWS BETWEEN CURRENT ROW AND 2 FOLLOWING EXCLUDE CURRENT ROW),
  AVG(n) OVER (ORDER BY n ROWS BETWEEN 1 PRECEDING AND 1 FOLLOWING EXCLUDE TIES),
  AVG(f) OVER (ORDER BY n ROWS BETWEEN 1 PRECEDING AND CURRENT ROW)
FROM w ORDER BY n;
--> rows
-->   1 | 1.25  | 2.50 | 1.5 | 1.5
-->   2 | 1.875 | 4.01 | 2   | 1.75
-->   3 | 2.50  | 4.01 | 3   | 2
-->   4 | 4.01  | NULL | 3.5 | 4
--# case OR of two unique columns, where one side finds rows, the other, both and neither
CREATE TABLE l (p INTEGER, q INTEGER);
CREATE TABLE r (x INTEGER UNIQUE, y INTEGER UNIQUE, z INTEGER);
INSERT INTO l VALUES (1, 2), (3, NULL), (NULL, 4), (5, 5), (NULL, NULL), (7, 8), (6, 6);
--> change l +7
INSERT INTO r VALUES (1, 9, 1), (2, 2, 2), (3, 10, 3), (11, 4, 4), (5, 5, 5), (12, 8, 8);
--> change r +6
SELECT p, q, z FROM l JOIN r ON x = p OR y = q;
--> rows in any order
-->   1    | 2    | 1
-->   1    | 2    | 2
-->   3    | NULL | 3
-->   NULL | 4    | 4
-->   5    | 5    | 5
-->   7    | 8    | 8
SELECT p, q, z FROM l LEFT JOIN r ON x = p OR y = q WHERE p IS NULL OR p > 5;
--> rows in any order
-->   NULL | 4    | 4
-->   NULL | NULL | NULL
-->   7    | 8    | 8
-->   6    | 6    | NULL
--# case NTILE with one bucket, with as many as rows and more, with none
CREATE TABLE tile (n INTEGER);
INSERT INTO tile VALUES (1), (2), (3);
--> change tile +3
SELECT n, NTILE(1) OVER (ORDER BY n), NTILE(2) OVER (ORDER BY n), NTILE(3) OVER (ORDER BY n), NTILE(5) OVER (ORDER BY n), NTILE(CAST(NULL AS INTEGER)) OVER (ORDER BY n) FROM tile ORDER BY n;
--> rows
-->   1 | 1 | 1 | 1 | 1 | NULL
-->   2 | 1 | 1 | 2 | 2 | NULL
-->   3 | 1 | 2 | 3 | 3 | NULL
SELECT NTILE(0) OVER (ORDER BY n) FROM tile;
--> fails 22014
SELECT PERCENTILE_CONT(1) WITHIN GROUP (ORDER BY n), PERCENTILE_CONT(0) WITHIN GROUP (ORDER BY n), PERCENTILE_DISC(1.0) WITHIN GROUP (ORDER BY n) FROM tile;
--> rows
-->   3 | 1 | 3
SELECT PERCENTILE_CONT(1.01) WITHIN GROUP (ORDER BY n) FROM tile;
--> fails 42804
SELECT PERCENTILE_DISC(2) WITHIN GROUP (ORDER BY n) FROM tile;
--> fails 42804
SELECT PERCENTILE_CONT(-0.01) WITHIN GROUP (ORDER BY n) FROM tile;
--> fails 42804
VALUES (WIDTH_BUCKET(0, 0, 5, 5), WIDTH_BUCKET(4.99, 0, 5, 5), WIDTH_BUCKET(5, 0, 5, 5), WIDTH_BUCKET(-0.01, 0, 5, 5), WIDTH_BUCKET(100, 0, 5, 5), WIDTH_BUCKET(5, 5, 0, 5), WIDTH_BUCKET(0, 5, 0, 5), WIDTH_BUCKET(1, 0, 5, 1));
--> rows
-->   1 | 5 | 6 | 0 | 6 | 1 | 6 | 1
--# case one of several routines of a name is changed, the others stay
CREATE FUNCTION ov(n INTEGER) RETURNS INTEGER RETURN COALESCE(n, -1);
CREATE FUNCTION ov(s VARCHAR(5)) RETURNS VARCHAR(5) RETURN COALESCE(s, 'none');
ALTER FUNCTION ov(INTEGER) RETURNS NULL ON NULL INPUT;
VALUES (ov(1), ov('a'), ov(CAST(NULL AS INTEGER)), ov(CAST(NULL AS VARCHAR(5))));
--> rows
-->   1 | 'a' | NULL | 'none'
--# case the domain of a column is told
CREATE DOMAIN pct AS INTEGER CHECK (VALUE BETWEEN 0 AND 100);
CREATE TABLE dom (a pct, b INTEGER);
SELECT column_name, domain_name FROM information_schema.columns WHERE table_name = 'DOM' OR table_name = 'dom' ORDER BY 1;
--> rows
-->   'a' | 'pct'
-->   'b' | NULL
--# case SEARCH by a column with NULL: it comes last among its siblings
CREATE TABLE node (id INTEGER, up INTEGER, k INTEGER);
INSERT INTO node VALUES (1, NULL, 1), (2, 1, NULL), (3, 1, 2), (4, 1, 1), (5, 2, 7), (6, 2, NULL), (7, 3, 9);
--> change node +7
WITH RECURSIVE r (id, k) AS (SELECT id, k FROM node WHERE up IS NULL UNION ALL SELECT n.id, n.k FROM r JOIN node n ON n.up = r.id)
  SEARCH DEPTH FIRST BY k SET seq SELECT id FROM r ORDER BY seq;
--> rows
-->   1
-->   4
-->   3
-->   7
-->   2
-->   5
-->   6
WITH RECURSIVE r (id, k) AS (SELECT id, k FROM node WHERE up IS NULL UNION ALL SELECT n.id, n.k FROM r JOIN node n ON n.up = r.id)
  SEARCH BREADTH FIRST BY k SET seq SELECT id FROM r ORDER BY seq;
--> rows
-->   1
-->   4
-->   3
-->   2
-->   5
-->   7
-->   6
--# case the plan of joins on both sides of UNION, in WITH and in subqueries
CREATE TABLE pa (a INTEGER PRIMARY KEY, b INTEGER);
CREATE TABLE pb (a INTEGER REFERENCES pa, c INTEGER);
INSERT INTO pa VALUES (1, 2), (2, 3);
--> change pa +2
INSERT INTO pb VALUES (1, 5), (2, 6), (2, 7);
--> change pb +3
EXPLAIN SELECT b FROM pa JOIN pb ON pa.a = pb.a UNION SELECT c FROM pb JOIN pa ON pa.a = pb.a EXCEPT SELECT b FROM pa;
EXPLAIN WITH w AS (SELECT a FROM pa WHERE b > 1) SELECT * FROM w LEFT JOIN pb ON pb.a = w.a WHERE EXISTS (SELECT * FROM pa JOIN pb ON pa.a = pb.a WHERE pb.c = w.a) ORDER BY 1;
EXPLAIN DELETE FROM pb WHERE a IN (SELECT a FROM pa WHERE b = 3);
--# case ARRAY_AGG over a window has the NULLs of its rows, and nothing of those that FILTER leaves out
CREATE TABLE aw (n INTEGER, x INTEGER, b BOOLEAN);
INSERT INTO aw VALUES (1, 10, TRUE), (2, NULL, TRUE), (3, 30, FALSE), (4, 40, NULL), (5, 50, TRUE);
--> change aw +5
SELECT n, ARRAY_AGG(x) FILTER (WHERE b) OVER (ORDER BY n ROWS BETWEEN 1 PRECEDING AND 1 FOLLOWING) FROM aw ORDER BY n;
--> rows
-->   1 | ARRAY[10, NULL]
-->   2 | ARRAY[10, NULL]
-->   3 | ARRAY[NULL]
-->   4 | ARRAY[50]
-->   5 | ARRAY[50]
SELECT ARRAY_AGG(x) FILTER (WHERE n > 9) OVER () FROM aw WHERE n = 1;
--> value NULL
SELECT STDDEV_POP(INTERVAL '1' DAY) OVER () FROM aw;
--> fails 42804
SELECT CORR(x) OVER () FROM aw;
--> fails 42884
SELECT n, REGR_COUNT(x, n) OVER (ORDER BY n), REGR_SLOPE(x, n) FILTER (WHERE b) OVER (), COVAR_POP(n, x) OVER (ORDER BY n ROWS BETWEEN 2 PRECEDING AND CURRENT ROW) FROM aw ORDER BY n;
--> rows
-->   1 | 1 | 10 | 0
-->   2 | 1 | 10 | 0
-->   3 | 2 | 10 | 10
-->   4 | 3 | 10 | 2.5
-->   5 | 4 | 10 | 6.666666666666667
--# case expressions over the columns of a DISTINCT result order it
CREATE TABLE seen_twice (a INTEGER, b INTEGER);
INSERT INTO seen_twice VALUES (3, 1), (1, 2), (3, 5), (NULL, 0);
SELECT DISTINCT a AS x FROM seen_twice ORDER BY -x NULLS LAST;
--> rows
-->   3
-->   1
-->   NULL
SELECT DISTINCT a + 1 FROM seen_twice ORDER BY a + 1 DESC NULLS LAST;
--> rows
-->   4
-->   2
-->   NULL
SELECT DISTINCT a FROM seen_twice ORDER BY b + 1;
--> fails 42601 like '%takes columns of the result%'
SELECT a FROM seen_twice ORDER BY b + 1;
--> rows
-->   NULL
-->   3
-->   1
-->   3
--# case what stands twice is ranked twice
SELECT PERCENTILE_DISC(0.5) WITHIN GROUP (ORDER BY n), PERCENTILE_CONT(0.5) WITHIN GROUP (ORDER BY n), PERCENTILE_DISC(0.4) WITHIN GROUP (ORDER BY n DESC)
FROM (VALUES 1, 1, 1, 2, 9, 9) AS v (n);
--> rows
-->   1 | 1.5 | 2
--# case percentiles at both ends
SELECT PERCENTILE_DISC(0) WITHIN GROUP (ORDER BY n), PERCENTILE_DISC(1) WITHIN GROUP (ORDER BY n), PERCENTILE_DISC(0.5) WITHIN GROUP (ORDER BY n),
       PERCENTILE_DISC(0.51) WITHIN GROUP (ORDER BY n), PERCENTILE_CONT(0) WITHIN GROUP (ORDER BY n), PERCENTILE_CONT(1) WITHIN GROUP (ORDER BY n),
       PERCENTILE_CONT(0.5) WITHIN GROUP (ORDER BY n DESC) FROM (VALUES 10, 20, 40, 80) AS v (n);
--> rows
-->   10 | 80 | 20 | 40 | 10 | 80 | 30
--# case set operations within a recursion
WITH RECURSIVE r (n) AS (VALUES 1 UNION (VALUES 7 UNION SELECT n + 1 FROM r WHERE n < 3)) SELECT * FROM r ORDER BY n;
--> rows
-->   1
-->   2
-->   3
-->   7
WITH RECURSIVE r (n) AS ((VALUES 1 UNION ALL SELECT n + 1 FROM r WHERE n < 3) EXCEPT SELECT 2 FROM r) SELECT * FROM r;
--> fails 42601 like '%behind EXCEPT there can be no reference to r%'
WITH RECURSIVE r (n) AS ((SELECT n FROM r WHERE n > 5) INTERSECT (VALUES 1)) SELECT * FROM r;
--> fails 42601 like '%it needs a query to start with%'
--# case set functions that are NULL, within expressions
SELECT CORR(a, b) + 1, COALESCE(REGR_SLOPE(a, b), 7), COVAR_SAMP(a, b) IS NULL, REGR_COUNT(a, b) + 1, STDDEV_SAMP(a) || '', VAR_POP(a) + 1,
       -SUM(a), MAX(a) > 1, CAST(MIN(a) AS VARCHAR(5)), ABS(AVG(a)), COUNT(a) + 1, EVERY(a > 1) IS UNKNOWN, ARRAY_AGG(a) IS NULL, LISTAGG('x') WITHIN GROUP (ORDER BY a) || 'y'
  FROM (VALUES (1, 2)) v (a, b) WHERE a > 1;
--> fails 42804
SELECT CORR(a, b) + 1, COALESCE(REGR_SLOPE(a, b), 7), COVAR_SAMP(a, b) IS NULL, REGR_COUNT(a, b) + 1, STDDEV_SAMP(a) * 2, VAR_POP(a) + 1,
       -SUM(a), MAX(a) > 1, CAST(MIN(a) AS VARCHAR(5)), ABS(AVG(a)), COUNT(a) + 1, EVERY(a > 1) IS UNKNOWN, ARRAY_AGG(a) IS NULL, LISTAGG('x') WITHIN GROUP (ORDER BY a) || 'y'
  FROM (VALUES (1, 2)) v (a, b) WHERE a > 1;
--> rows
-->   NULL | 7E0 | TRUE | 1 | NULL | NULL | NULL | NULL | NULL | NULL | 1 | TRUE | TRUE | NULL
--# case rows of NULLs in the place of each kind of relation that finds nothing
CREATE TABLE t (a INTEGER PRIMARY KEY, b INTEGER);
CREATE TABLE u (k INTEGER);
INSERT INTO t VALUES (1, 10), (5, 20);
SELECT a, n, o FROM t LEFT JOIN UNNEST(ARRAY[7, 5]) WITH ORDINALITY AS x (n, o) ON n = a ORDER BY a;
--> rows
-->   1 | NULL | NULL
-->   5 | 5    | 2
SELECT a, v.table_name, v.table_type FROM t LEFT JOIN information_schema.tables AS v ON v.table_name = 'none' ORDER BY a;
--> rows
-->   1 | NULL | NULL
-->   5 | NULL | NULL
WITH w (n, m) AS (VALUES (5, 6), (6, 7)) SELECT a, p.n, q.m FROM t LEFT JOIN w AS p ON p.n = a LEFT JOIN w AS q ON q.n = p.m ORDER BY a;
--> rows
-->   1 | NULL | NULL
-->   5 | 5    | 7
SELECT a, x.k FROM t LEFT JOIN FINAL TABLE (INSERT INTO u VALUES (3), (5)) AS x ON x.k = a ORDER BY a;
--> rows
-->   1 | NULL
-->   5 | 5
--> change u +2
SELECT a, x.k FROM t LEFT JOIN OLD TABLE (DELETE FROM u WHERE k = 3) AS x ON x.k = a + 2 ORDER BY a;
--> rows
-->   1 | 3
-->   5 | NULL
--> change u -1
SELECT a, n FROM UNNEST(ARRAY[7, 1]) AS x (n) FULL JOIN t ON n = a ORDER BY a, n;
--> rows
-->   1    | 1
-->   5    | NULL
-->   NULL | 7
CREATE PROCEDURE seen() BEGIN
  FOR r AS SELECT a, n FROM t LEFT JOIN UNNEST(ARRAY[5]) AS x (n) ON n = a ORDER BY a DO CALL note(CAST(r.a AS VARCHAR(9)) || COALESCE('=' || CAST(r.n AS VARCHAR(9)), ' none')); END FOR;
END;
CALL seen();
--> note '1 none'
--> note '5=5'
CREATE TRIGGER after_t AFTER UPDATE ON t REFERENCING OLD TABLE AS was NEW TABLE AS now BEGIN
  FOR r AS SELECT u.k, w.a FROM u LEFT JOIN was AS w ON w.a = u.k + 1 ORDER BY u.k DO CALL note(COALESCE(CAST(r.a AS VARCHAR(9)), 'none')); END FOR;
END;
UPDATE t SET b = b + 1;
--> note 'none'
--> change t ~2
SELECT table_name, kind, key_text, before_row, after_row FROM glimb.changes ORDER BY table_name, kind, key_text;
--> rows
-->   't' | 'insert' | '1' | NULL | '1, 11'
-->   't' | 'insert' | '5' | NULL | '5, 21'
-->   'u' | 'insert' | '2' | NULL | '5'
DELETE FROM t WHERE a = 5;
--> change t -1
SELECT table_name, kind, key_text, before_row, after_row FROM glimb.changes ORDER BY table_name, kind, key_text;
--> rows
-->   't' | 'insert' | '1' | NULL | '1, 11'
-->   'u' | 'insert' | '2' | NULL | '5'
