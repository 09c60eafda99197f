-- What is assigned to, and views that are seen through.
--# case rows, fields and elements as targets; views FOR UPDATE and under cursors
CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER, w INTEGER);
INSERT INTO t VALUES (1,10,1),(2,20,2),(3,30,3);
--> change t +3
CREATE VIEW big (id, v, twice) AS SELECT id, v, v * 2 FROM t WHERE v > 10;
SELECT * FROM big FOR UPDATE;
--> rows in any order
-->   2 | 20 | 40
-->   3 | 30 | 60
SELECT id, twice FROM big AS b WHERE twice > 50 FOR UPDATE OF b;
--> rows in any order
-->   3 | 60
UPDATE big SET v = twice + 1 WHERE id = 2;
--> change t ~1
CREATE PROCEDURE p() BEGIN DECLARE i, x INTEGER; DECLARE c CURSOR FOR SELECT id, twice FROM big ORDER BY id FOR UPDATE OF v; OPEN c; FETCH c INTO i, x; UPDATE big SET v = x WHERE CURRENT OF c; CALL note(CAST(i AS VARCHAR(3)) || ' ' || CAST(x AS VARCHAR(3))); CLOSE c; END;
CALL p();
--> note '2 82'
--> change t ~1
SELECT * FROM t;
--> rows in any order
-->   1 | 10 | 1
-->   2 | 82 | 2
-->   3 | 30 | 3
CREATE VIEW dup AS SELECT id, v AS id FROM t;
--> fails 42701
BEGIN DECLARE r ROW(a INTEGER, b INTEGER); DECLARE arr INTEGER ARRAY[5]; DECLARE x INTEGER; DECLARE c CURSOR FOR SELECT id, v FROM t ORDER BY id; SET arr = ARRAY[1,2];
 OPEN c; FETCH c INTO r; CALL note(CAST(r.b AS VARCHAR(9))); FETCH c INTO arr[3], r.b; CALL note(CAST(arr[3] AS VARCHAR(9)) || ' ' || CAST(r.b AS VARCHAR(9)));
 SET r = (SELECT v, w FROM t WHERE id = 3); CALL note(CAST(r.a AS VARCHAR(9)));
 SET r = (SELECT v, w FROM t WHERE id = 99); CALL note(COALESCE(CAST(r.a AS VARCHAR(9)),'null'));
 SELECT id, v INTO r FROM t WHERE id = 1; CALL note(CAST(r.b AS VARCHAR(9)));
 SELECT id INTO arr[1] FROM t WHERE id = 3; CALL note(CAST(arr[1] AS VARCHAR(9)));
 SET (arr[2], x) = (7, 8); CALL note(CAST(arr[2] AS VARCHAR(9)));
 SET (r.a, x) = (SELECT 5, 6); CALL note(CAST(r.a AS VARCHAR(9)));
 FOR q AS cc INSENSITIVE CURSOR FOR SELECT id FROM t DO SET x = q.id; END FOR;

END;
--> note '10'
--> note '2 82'
--> note '30'
--> note 'null'
--> note '10'
--> note '3'
--> note '7'
--> note '5'
BEGIN DECLARE r ROW(a INTEGER, b INTEGER); SET r = (1, 2); IF r IN (SELECT id, v FROM t) THEN CALL note('in'); END IF; IF r = (1,2) THEN CALL note('eq'); END IF; IF r BETWEEN (1,1) AND (1,3) THEN CALL note('bt'); END IF; CASE r WHEN (1,2) THEN CALL note('case'); END CASE; IF r IN ((1,3),(1,2)) THEN CALL note('list'); END IF; IF (1, NULL) NOT IN (SELECT 2, v FROM t) THEN CALL note('notin'); END IF; END;
--> note 'eq'
--> note 'bt'
--> note 'case'
--> note 'list'
--> note 'notin'
WITH q AS (SELECT 1 AS a) SELECT * FROM big WHERE id IN (SELECT a+1 FROM q) FOR UPDATE;
--> rows in any order
-->   2 | 82 | 164
CREATE VIEW vv AS SELECT big.*, id + 1 AS nxt FROM big;
SELECT * FROM vv FOR UPDATE;
--> rows in any order
-->   2 | 82 | 164 | 3
-->   3 | 30 | 60 | 4
UPDATE vv SET v = nxt WHERE id = 3;
--> change t ~1
SELECT * FROM vv;
--> rows in any order
-->   2 | 82 | 164 | 3
INSERT INTO vv (id, v) VALUES (9, 99);
--> change t +1

--# case parts of parts are read and set, and several of one variable at once
CREATE TABLE r (k INTEGER, b ROW(x INTEGER, y ROW(z INTEGER)), a ROW(x INTEGER, y VARCHAR(3)) ARRAY[4]);
INSERT INTO r VALUES (1, ROW(5, ROW(6)), ARRAY[ROW(1, 'p'), ROW(2, 'q')]);
CREATE FUNCTION f(n INTEGER) RETURNS ROW(x INTEGER, y VARCHAR(3)) RETURN ROW(n, 'f');
SELECT b.y.z, r.b.y.z, a[2].y, f(3).x, CAST(b AS ROW(p INTEGER, q ROW(s INTEGER))).q.s, CASE WHEN k = 1 THEN b END.x, (SELECT b FROM r).y.z FROM r;
--> rows
-->   6 | 6 | 'q' | 3 | 6 | 5 | 6
SELECT b.x.z FROM r;
--> fails 42804
SELECT b.y.q FROM r;
--> fails 42703
CREATE PROCEDURE out_in (OUT a INTEGER, INOUT b INTEGER) BEGIN SET a = 1; SET b = b + 1; END;
l: BEGIN
  DECLARE v ROW(x INTEGER, y ROW(z INTEGER, a INTEGER ARRAY[3]));
  DECLARE a ROW(q INTEGER) ARRAY[3];
  SET v = ROW(1, ROW(2, ARRAY[1, 2])), a = ARRAY[ROW(1), ROW(2)];
  SET v.x = v.y.z, v.y.z = v.x;
  CALL note(v);
  SET (l.v.y.a[2], v.y.a[3], v.x) = (7, v.y.a[1] + 8, 3);
  CALL note(v);
  SET a[2].q = 5, a[3] = ROW(8);
  CALL out_in(a[1].q, v.y.a[1]);
  CALL note(a);
  SELECT 30, 40 INTO v.x, v.y.z FROM r;
  CALL note(v);
END;
--> note 'ROW(2, ROW(1, ARRAY[1, 2]))'
--> note 'ROW(3, ROW(1, ARRAY[1, 7, 9]))'
--> note 'ARRAY[ROW(1), ROW(5), ROW(8)]'
--> note 'ROW(30, ROW(40, ARRAY[2, 7, 9]))'
BEGIN DECLARE v ROW(x INTEGER); SET v.x.y = 1; END;
--> fails 42804
BEGIN DECLARE v ROW(x INTEGER); CALL out_in(f(1).x, v.x); END;
--> fails 42804
--# case a host variable is set to what it was and more, and takes another type by it
--# let x = 5
SET :x = CAST(:x AS VARCHAR(5)) || 'a';
--> holds :x = '5a'
SET :x = CHAR_LENGTH(:x) + 1;
--> holds :x = 3
