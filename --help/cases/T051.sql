--# case T051 6.1 row types
CREATE TABLE place (name VARCHAR(10), at ROW(x INTEGER, y INTEGER));
INSERT INTO place VALUES ('Orr', ROW(3, 4)), ('Hule', NULL);
SELECT p.at.x, (at).y, at FROM place p WHERE name = 'Orr';
--> rows
-->   3 | 4 | ROW(3, 4)
SELECT at IS NULL, at = ROW(3, 4) FROM place ORDER BY name;
--> rows
-->   TRUE | NULL
-->   FALSE | TRUE
CREATE FUNCTION moved(p ROW(x INTEGER, y INTEGER), by_x INTEGER) RETURNS ROW(x INTEGER, y INTEGER) BEGIN SET p.x = p.x + by_x; RETURN p; END;
SELECT (moved(at, 10)).x, (moved(at, NULL)).x FROM place WHERE name = 'Orr';
--> rows
-->   13 | NULL
SELECT at.z FROM place;
--> fails 42703
INSERT INTO place VALUES ('Tal', ROW(1, 2, 3));
--> fails 42804
--# case T051 6.15 rows compare as rows do, and a field of NULL is NULL
CREATE TABLE t (r ROW(x INTEGER, y VARCHAR(5)));
INSERT INTO t VALUES (ROW(1, 'a')), (ROW(NULL, 'b')), (NULL);
SELECT COUNT(*) FROM t WHERE r = ROW(1, 'a');
--> value 1
SELECT t.r.y FROM t WHERE t.r.x IS NULL;
--> rows in any order
-->   'b'
-->   NULL
UPDATE t SET r = ROW(2, 'c') WHERE t.r.x = 1;
--> change t ~1