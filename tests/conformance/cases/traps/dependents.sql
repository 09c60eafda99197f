-- Who uses what is dropped or altered; keys between comparable types; lengths of large objects.
--# case RESTRICT and CASCADE
CREATE TABLE t (id INTEGER PRIMARY KEY, v INTEGER, w INTEGER DEFAULT 1);
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER RETURN (SELECT MAX(v) FROM t WHERE id = n);
CREATE FUNCTION g(n INTEGER) RETURNS INTEGER RETURN f(n) + 1;
CREATE VIEW vw AS SELECT id, v FROM t;
CREATE VIEW va AS SELECT * FROM t;
CREATE TABLE log (n INTEGER);
CREATE TRIGGER tr AFTER INSERT ON log FOR EACH ROW INSERT INTO t VALUES (NEW.n, 1, 2);
DROP TABLE t RESTRICT;
--> fails 42893
DROP FUNCTION f RESTRICT;
--> fails 42893
DROP FUNCTION g RESTRICT;
ALTER TABLE t DROP COLUMN v RESTRICT;
--> fails 42893
ALTER TABLE t DROP COLUMN w RESTRICT;
--> fails 42893
ALTER TABLE t DROP COLUMN w CASCADE;
SELECT * FROM va;
--> fails 42704
INSERT INTO log VALUES (1);
--> change log +1
SELECT * FROM vw;
--> no rows
ALTER TABLE t DROP COLUMN v CASCADE;
SELECT * FROM vw;
--> fails 42704
SELECT f(1);
--> fails 42883
DROP TABLE t RESTRICT;
CREATE TABLE p (a INTEGER PRIMARY KEY, b INTEGER UNIQUE);
CREATE TABLE c (a INTEGER REFERENCES p, b INTEGER CONSTRAINT cb REFERENCES p (b));
ALTER TABLE p DROP CONSTRAINT p_pk RESTRICT;
--> fails 42704
ALTER TABLE p DROP CONSTRAINT p_a_pk CASCADE;
INSERT INTO c (a) VALUES (99);
--> change c +1
ALTER TABLE p DROP COLUMN b CASCADE;
INSERT INTO c (b) VALUES (99);
--> change c +1
ALTER TABLE c ADD COLUMN z INTEGER;
CREATE TABLE p2 (a CHAR(4) PRIMARY KEY);
CREATE TABLE c2 (a VARCHAR(10) REFERENCES p2 ON UPDATE CASCADE ON DELETE CASCADE);
INSERT INTO p2 VALUES ('ab'),('cd');
--> change p2 +2
INSERT INTO c2 VALUES ('ab'), ('ab   '), ('cd');
--> change c2 +3
INSERT INTO c2 VALUES ('ef');
--> fails 23503
UPDATE p2 SET a = 'xy' WHERE a = 'ab';
--> change c2 ~2
--> change p2 ~1
SELECT * FROM c2;
--> rows in any order
-->   'xy  '
-->   'xy  '
-->   'cd'
DELETE FROM p2 WHERE a = 'cd';
--> change c2 -1
--> change p2 -1
SELECT * FROM c2;
--> rows in any order
-->   'xy  '
-->   'xy  '
CREATE TABLE p3 (a DECIMAL(6,2) PRIMARY KEY);
CREATE TABLE c3 (a INTEGER REFERENCES p3);
INSERT INTO p3 VALUES (1), (2.5);
--> change p3 +2
INSERT INTO c3 VALUES (1);
--> change c3 +1
INSERT INTO c3 VALUES (2);
--> fails 23503
DELETE FROM p3 WHERE a = 1;
--> fails 23503
CREATE TABLE lob (c CLOB(3), b BLOB(2));
INSERT INTO lob VALUES ('abcd', NULL);
--> fails 22001
INSERT INTO lob VALUES ('abc ', X'010203');
--> fails 22001
INSERT INTO lob VALUES ('abc ', X'0102');
--> change lob +1
SELECT c || '|', CAST('abcdef' AS CLOB(4)) FROM lob;
--> rows in any order
-->   'abc|' | 'abcd'
CREATE SEQUENCE sq;
CREATE TABLE us (a INTEGER DEFAULT NEXT VALUE FOR sq);
DROP SEQUENCE sq RESTRICT;
--> fails 42893
CREATE PROCEDURE both(x INTEGER) CALL note('p');
CREATE FUNCTION both(x INTEGER) RETURNS INTEGER RETURN x;
CALL both(1);
--> note 'p'
SELECT both(2);
--> value 2
DROP PROCEDURE both;
SELECT both(2);
--> value 2
CALL both(2);
--> fails 42809
SELECT log2(1);
--> fails 42883
--# case a trigger stays on a table that is altered
CREATE TABLE seen (n INTEGER, what VARCHAR(10));
CREATE TABLE t (n INTEGER PRIMARY KEY, a INTEGER);
CREATE TRIGGER tells AFTER INSERT ON t REFERENCING NEW AS now FOR EACH ROW INSERT INTO seen VALUES (now.n, 'row');
ALTER TABLE t ADD COLUMN b INTEGER DEFAULT 7;
INSERT INTO t (n) VALUES (1);
SELECT n FROM seen;
--> value 1
ALTER TABLE t DROP COLUMN a;
INSERT INTO t VALUES (2, 3);
SELECT COUNT(*) FROM seen;
--> value 2
DROP TRIGGER tells;
INSERT INTO t VALUES (3, 3);
SELECT COUNT(*) FROM seen;
--> value 2
--# case a domain loses its default with the sequence that it draws from
CREATE SEQUENCE q START WITH 5;
CREATE DOMAIN numbered AS INTEGER DEFAULT NEXT VALUE FOR q;
CREATE TABLE t (n INTEGER, d numbered);
INSERT INTO t (n) VALUES (1);
SELECT d FROM t;
--> value 5
DROP SEQUENCE q RESTRICT;
--> fails 42893
DROP SEQUENCE q CASCADE;
INSERT INTO t (n) VALUES (2);
SELECT d FROM t WHERE n = 2;
--> value NULL
--# case keys of several columns with NULL, beside rows that another session has changed
CREATE TABLE k (a INTEGER, b INTEGER, n INTEGER, UNIQUE (a, b));
INSERT INTO k VALUES (1, NULL, 1), (1, 2, 2), (NULL, NULL, 3);
CREATE TABLE p (a INTEGER, b INTEGER);
INSERT INTO p VALUES (1, NULL), (1, 2), (NULL, NULL), (1, 3);
COMMIT;
--# session other
UPDATE k SET b = 3 WHERE n = 1;
INSERT INTO k VALUES (1, NULL, 4), (NULL, 2, 5);
--# session main
SELECT k.n FROM p JOIN k ON k.a = p.a AND k.b = p.b;
--> value 2
SELECT n FROM k WHERE a = 1 AND b = CAST(NULL AS INTEGER);
--> no rows
--# session other
SELECT k.n FROM p JOIN k ON k.a = p.a AND k.b = p.b ORDER BY 1;
--> rows
-->   1
-->   2
SELECT n FROM k WHERE (a, b) = (1, CAST(NULL AS INTEGER));
--> no rows
ROLLBACK;
--# case ranges of characters
VALUES ('b' SIMILAR TO '[b-b]', 'a' SIMILAR TO '[b-b]', 'c' SIMILAR TO '[a-c]', 'c' SIMILAR TO '[a-b]');
--> rows
-->   TRUE | FALSE | TRUE | FALSE
VALUES ('b' SIMILAR TO '[c-b]');
--> fails 2201B
--# case a parameter may be NULL, however it is asked for
CREATE FUNCTION f (a INTEGER) RETURNS VARCHAR(10)
BEGIN
  IF a IS NULL THEN RETURN 'null'; END IF;
  IF NOT (a > 0) THEN RETURN 'not'; END IF;
  RETURN CASE WHEN a + 1 > 3 THEN 'much' ELSE 'little' END;
END;
CREATE FUNCTION g (a INTEGER, b BOOLEAN) RETURNS INTEGER
BEGIN
  DECLARE n INTEGER DEFAULT 0;
  SET n = a + 1;
  WHILE n < 3 DO SET n = n + 1; END WHILE;
  IF b THEN SET n = n + 10; ELSEIF NOT b THEN SET n = n + 20; END IF;
  RETURN n;
END;
VALUES (f(NULL), f(0), f(2), f(3));
--> rows
-->   'null' | 'not' | 'little' | 'much'
VALUES (g(NULL, NULL), g(1, NULL), g(1, TRUE), g(7, FALSE));
--> rows
-->   NULL | 3 | 13 | 28
--# case what stands in no grammar
SET DESCRIPTOR 'd' COUNTS = 1;
--> fails 42601
CREATE TABLE other (LIKE nothing INCLUDING COMMENTS);
--> fails 42601
CREATE TABLE a (n INTEGER GENERATED ALWAYS AS IDENTITY (START WITH 4), v INTEGER DEFAULT 9, w INTEGER GENERATED ALWAYS AS (v + 1));
CREATE TABLE b (LIKE a INCLUDING IDENTITY INCLUDING DEFAULTS INCLUDING GENERATED);
CREATE TABLE c (LIKE a EXCLUDING IDENTITY INCLUDING DEFAULTS);
CREATE TABLE e (LIKE a);
INSERT INTO b (v) VALUES (DEFAULT);
SELECT * FROM b;
--> rows
-->   4 | 9 | 10
INSERT INTO c (n, w) VALUES (1, 2);
SELECT * FROM c;
--> rows
-->   1 | 9 | 2
INSERT INTO e (n) VALUES (1);
SELECT * FROM e;
--> rows
-->   1 | NULL | NULL
--# case a view in whose place a trigger acts, given what its columns are given
CREATE TABLE t (n INTEGER DEFAULT 3, m VARCHAR(3));
CREATE VIEW v AS SELECT n + 1 AS k, m FROM t;
CREATE TRIGGER instead INSTEAD OF INSERT ON v REFERENCING NEW AS now FOR EACH ROW INSERT INTO t VALUES (now.k - 1, now.m);
INSERT INTO v (m) VALUES ('a');
INSERT INTO v (k, m) VALUES (5, 'b'), (NULL, NULL);
SELECT * FROM t ORDER BY m NULLS FIRST;
--> rows
-->   NULL | NULL
-->   NULL | 'a'
-->   4 | 'b'
INSERT INTO v DEFAULT VALUES;
--> fails 42601
--# case a default that a domain loses is its columns' own from then on
CREATE SEQUENCE q START WITH 5;
CREATE DOMAIN numbered AS INTEGER DEFAULT NEXT VALUE FOR q;
CREATE TABLE t (n INTEGER, d numbered, o numbered DEFAULT 1);
CREATE TABLE l (d numbered ARRAY[2], n INTEGER);
ALTER DOMAIN numbered DROP DEFAULT;
INSERT INTO t (n) VALUES (1);
ALTER TABLE t ADD COLUMN more INTEGER;
ALTER DOMAIN numbered SET DEFAULT 8;
INSERT INTO t (n) VALUES (2);
SELECT * FROM t ORDER BY n;
--> rows
-->   1 | 5 | 1 | NULL
-->   2 | 6 | 1 | NULL
DROP SEQUENCE q;
--> fails 42893
DROP SEQUENCE q CASCADE;
INSERT INTO t (n) VALUES (3);
SELECT d, o FROM t WHERE n = 3;
--> rows
-->   8 | 1
--# case a domain that is dropped leaves its type, its default and its constraints to the columns
CREATE DOMAIN small AS DECIMAL(4,1) DEFAULT 3 CONSTRAINT few CHECK (VALUE < 10);
CREATE TABLE t (n INTEGER, s small, u small DEFAULT 4 CHECK (u > 0), l small ARRAY[2]);
CREATE VIEW v AS SELECT n, s FROM t;
CREATE VIEW w AS SELECT CAST(n AS small) AS c FROM t;
CREATE FUNCTION f (x small) RETURNS INTEGER RETURN x + 1;
CREATE TRIGGER r AFTER INSERT ON t REFERENCING NEW AS now FOR EACH ROW WHEN (CAST(now.n AS small) = 7) SIGNAL SQLSTATE '45007';
INSERT INTO t (n, l) VALUES (1, ARRAY[1, 2.25]);
DROP DOMAIN small;
--> fails 42893 like '%f, r, t, w%'
DROP DOMAIN small CASCADE;
INSERT INTO t (n) VALUES (3);
INSERT INTO t (n) VALUES (7);
INSERT INTO t (n, s) VALUES (4, 12);
--> fails 23514
ALTER TABLE t ADD COLUMN x INTEGER DEFAULT 0;
SELECT * FROM t WHERE n < 7 ORDER BY n;
--> rows
-->   1 | 3.0 | 4.0 | ARRAY[1.0, 2.3] | 0
-->   3 | 3.0 | 4.0 | NULL | 0
SELECT COUNT(*) FROM v;
--> value 3
SELECT * FROM w;
--> fails 42704
VALUES (f(1));
--> fails 42883
ALTER TABLE t ALTER COLUMN s DROP DEFAULT;
INSERT INTO t (n) VALUES (5);
SELECT s, u FROM t WHERE n = 5;
--> rows
-->   NULL | 4.0
ROLLBACK;
SELECT COUNT(*) FROM t;
--> fails 42704
--# case domains and distinct types of a schema
CREATE SCHEMA s;
CREATE DOMAIN s.d AS VARCHAR(3) DEFAULT 'x' CHECK (VALUE <> 'no');
CREATE TYPE s.m AS DECIMAL(5,2);
CREATE TABLE t (n INTEGER, a s.d, b s.m);
SET SCHEMA 's';
CREATE TABLE u (a d, b m, l d ARRAY[2]);
SET SCHEMA 'project';
INSERT INTO t (n, b) VALUES (1, CAST(2.5 AS s.m));
INSERT INTO s.u (b) VALUES (CAST(1 AS s.m));
SELECT a, CAST(b AS DECIMAL(5,2)) FROM t UNION ALL SELECT a, CAST(b AS DECIMAL(5,2)) FROM s.u;
--> rows in any order
-->   'x' | 2.50
-->   'x' | 1.00
SELECT CAST('no' AS s.d) FROM t;
--> fails 23514
CREATE TABLE w (a s.integer);
--> fails 42704
CREATE TABLE w (a nowhere.d);
--> fails 42704
DROP TYPE s.m;
--> fails 42893
DROP DOMAIN s.d CASCADE;
INSERT INTO s.u (a) VALUES ('no');
--> fails 23514
ALTER TABLE s.u ADD COLUMN c INTEGER;
INSERT INTO s.u (c) VALUES (1);
SELECT a FROM s.u WHERE c = 1;
--> value 'x'
--# case what a table is made of means what its schema had, from wherever it is used and altered
CREATE SCHEMA s;
SET SCHEMA 's';
CREATE SEQUENCE q START WITH 10;
CREATE FUNCTION twice (n INTEGER) RETURNS INTEGER DETERMINISTIC RETURN n * 2;
CREATE TABLE base (id INTEGER PRIMARY KEY, up INTEGER REFERENCES base);
CREATE DOMAIN few AS INTEGER DEFAULT twice(1) CHECK (twice(VALUE) < 50);
CREATE TABLE t (id INTEGER DEFAULT NEXT VALUE FOR q PRIMARY KEY, a INTEGER CHECK (twice(a) < 20), b INTEGER GENERATED ALWAYS AS (twice(a) + 1),
  f few, base INTEGER REFERENCES base, CHECK (a NOT IN (SELECT id FROM base WHERE base.up = 1)));
CREATE PROCEDURE p (IN n INTEGER) INSERT INTO t (a) VALUES (n);
CALL p(3);
SET SCHEMA 'project';
CREATE SEQUENCE q START WITH 1000;
CREATE FUNCTION twice (n INTEGER) RETURNS INTEGER RETURN -1;
CREATE TABLE base (id INTEGER PRIMARY KEY);
CREATE DOMAIN few AS INTEGER DEFAULT 77;
CALL s.p(4);
INSERT INTO s.base VALUES (1, NULL), (5, 1);
ALTER TABLE s.t ADD COLUMN c INTEGER DEFAULT NEXT VALUE FOR q;
INSERT INTO s.t (a, base) VALUES (6, 5);
INSERT INTO s.t (a, base) VALUES (6, 6);
--> fails 23503
INSERT INTO s.t (a) VALUES (5);
--> fails 23514
INSERT INTO s.t (a) VALUES (10);
--> fails 23514
INSERT INTO s.t (a, f) VALUES (1, 25);
--> fails 23514
SELECT id, a, b, f, base, c FROM s.t ORDER BY id;
--> rows
-->   10 | 3 | 7 | 2 | NULL | 1000
-->   11 | 4 | 9 | 2 | NULL | 1001
-->   12 | 6 | 13 | 2 | 5 | 1002
SET SCHEMA 's';
CREATE TABLE l (LIKE t INCLUDING DEFAULTS INCLUDING GENERATED);
INSERT INTO l (id, a) VALUES (DEFAULT, 2);
SELECT b, f, c FROM l;
--> rows
-->   5 | 2 | 1007
DROP SEQUENCE q CASCADE;
INSERT INTO t (id, a) VALUES (1, 1);
SELECT c FROM t WHERE id = 1;
--> value 1008
--# case what casts to a domain that is dropped loses it
CREATE DOMAIN low AS INTEGER CHECK (VALUE < 10);
CREATE DOMAIN other AS INTEGER DEFAULT CAST(3 AS low) CHECK (CAST(VALUE AS low) > 0);
CREATE TABLE t (n INTEGER, o other, c INTEGER CHECK (CAST(c AS low) <> 5), g INTEGER GENERATED ALWAYS AS (CAST(n AS low) + 1), l low);
INSERT INTO t (n, c) VALUES (1, 2);
DROP DOMAIN low CASCADE;
INSERT INTO t (n, o, c) VALUES (20, 30, 5);
INSERT INTO t (n, l) VALUES (2, 10);
--> fails 23514
INSERT INTO t (n) VALUES (3);
SELECT * FROM t ORDER BY n;
--> rows
-->   1 | 3 | 2 | NULL
-->   3 | NULL | NULL | NULL
-->   20 | 30 | 5 | NULL
CREATE TABLE u (o other);
INSERT INTO u VALUES (DEFAULT), (-1);
--> change u +2

--# case a distinct type takes its columns, its domains and all that makes values of it with it
CREATE TYPE euro AS DECIMAL(8,2) FINAL;
CREATE DOMAIN price AS euro;
CREATE TABLE only (x euro, twice DECIMAL(9,2) GENERATED ALWAYS AS (CAST(x AS DECIMAL(8,2)) * 2));
CREATE DOMAIN few AS INTEGER CHECK (euro(VALUE) < euro(9));
CREATE TABLE some_few (n few);
CREATE TABLE many (k INTEGER, p price, q euro ARRAY[3], r ROW(f INTEGER, g euro), n INTEGER CHECK (euro(n) > euro(2)));
CREATE FUNCTION whole(e euro) RETURNS INTEGER RETURN CAST(CAST(e AS DECIMAL(8,2)) AS INTEGER);
CREATE FUNCTION through(n INTEGER) RETURNS INTEGER RETURN whole(euro(n));
CREATE VIEW seen AS SELECT through(n) AS x FROM many;
CREATE VIEW priced AS SELECT k, p FROM many;
CREATE VIEW counted AS SELECT k, n FROM many;
INSERT INTO many (k, p, n) VALUES (1, euro(1.5), 5);
DROP TYPE euro;
--> fails 42893
DROP TYPE euro CASCADE;
SELECT * FROM many;
--> rows
-->   1 | 5
INSERT INTO many (k, n) VALUES (2, 1);
SELECT * FROM only;
--> fails 42704
SELECT * FROM seen;
--> fails 42704
SELECT * FROM priced;
--> fails 42704
SELECT * FROM counted;
--> rows
-->   1 | 5
-->   2 | 1
VALUES CAST(1 AS price);
--> fails 42704
INSERT INTO some_few VALUES (10), (CAST(11 AS few));
VALUES through(1);
--> fails 42883

--# case what is in a schema is dropped with what hangs on it elsewhere
CREATE SCHEMA s;
CREATE DOMAIN s.d AS INTEGER CHECK (VALUE > 0);
CREATE TYPE s.t AS INTEGER FINAL;
CREATE SEQUENCE s.q;
CREATE FUNCTION s.f(x INTEGER) RETURNS INTEGER RETURN x + 1;
CREATE FUNCTION s.f(x VARCHAR(3)) RETURNS VARCHAR(3) RETURN x;
CREATE TABLE s.up (k INTEGER PRIMARY KEY);
CREATE TABLE p (id s.d, n INTEGER DEFAULT NEXT VALUE FOR s.q, c INTEGER GENERATED ALWAYS AS (s.f(n)), k INTEGER REFERENCES s.up, m s.t, CHECK (s.f(id) < 10));
CREATE VIEW v AS SELECT s.f(id) AS x FROM p;
CREATE PROCEDURE r() BEGIN DECLARE z INTEGER; SET z = s.f(1); END;
DROP SCHEMA s CASCADE;
INSERT INTO p (id, k) VALUES (20, 7);
SELECT * FROM p;
--> rows
-->   20 | NULL | 7
INSERT INTO p (id) VALUES (-1);
--> fails 23514
ALTER TABLE p DROP COLUMN k;
SELECT * FROM v;
--> fails 42704
CALL r();
--> fails 42883

--# case a module is dropped like the routines in it; DECLARE may be left out
CREATE MODULE m FUNCTION h(n INTEGER) RETURNS INTEGER RETURN n + 1; DECLARE FUNCTION i(n INTEGER) RETURNS INTEGER RETURN h(n) * 2; END MODULE;
CREATE FUNCTION o(n INTEGER) RETURNS INTEGER RETURN m.h(n);
VALUES m.i(o(1));
--> value 6
DROP MODULE m RESTRICT;
--> fails 42893
DROP MODULE m;
VALUES o(1);
--> fails 42704
CREATE MODULE m FUNCTION h(n INTEGER) RETURNS INTEGER RETURN n; END MODULE;
CREATE VIEW v AS SELECT m.h(n) AS x FROM (VALUES 1) AS t (n);
DROP MODULE m;
--> fails 42893
DROP MODULE m CASCADE;
SELECT * FROM v;
--> fails 42704
--# case routines go with what they use
CREATE TABLE used (n INTEGER);
CREATE FUNCTION how_many() RETURNS INTEGER READS SQL DATA RETURN (SELECT COUNT(*) FROM used);
CREATE FUNCTION one_more() RETURNS INTEGER READS SQL DATA RETURN how_many() + 1;
VALUES one_more();
--> value 1
DROP TABLE used RESTRICT;
--> fails 42893
DROP FUNCTION how_many() CASCADE;
VALUES one_more();
--> fails 42883
CREATE FUNCTION how_many() RETURNS INTEGER READS SQL DATA RETURN (SELECT COUNT(*) FROM used);
DROP TABLE used CASCADE;
VALUES how_many();
--> fails 42883
--# case what a table has moves with it, or goes with what it needs
CREATE TABLE t (a INTEGER PRIMARY KEY, b INTEGER, c INTEGER GENERATED ALWAYS AS (a + 1), d INTEGER);
CREATE TABLE log (what VARCHAR(20));
CREATE TRIGGER on_b AFTER UPDATE OF b ON t INSERT INTO log VALUES ('b');
CREATE TRIGGER on_d AFTER UPDATE OF d ON t INSERT INTO log VALUES ('d');
CREATE TRIGGER by_b AFTER UPDATE ON t REFERENCING NEW AS n FOR EACH ROW INSERT INTO log VALUES ('n' || CAST(n.b AS VARCHAR(9)));
CREATE VIEW sums AS SELECT SUM(b) AS s FROM t;
CREATE VIEW plain AS SELECT * FROM t;
INSERT INTO t (a, b, d) VALUES (1, 2, 3);
UPDATE t SET b = 4, d = 4;
--> change log +3
--> change t ~1
SELECT what FROM log ORDER BY what;
--> rows
-->   'b'
-->   'd'
-->   'n4'
ALTER TABLE t DROP COLUMN b;
--> fails 42893
ALTER TABLE t DROP COLUMN b CASCADE;
UPDATE t SET d = 5;
--> change log +1
--> change t (1) d 4 -> 5
SELECT what, COUNT(*) FROM log GROUP BY what ORDER BY what;
--> rows
-->   'b'  | 1
-->   'd'  | 2
-->   'n4' | 1
SELECT s FROM sums;
--> fails 42704
SELECT * FROM plain;
--> fails 42704
SELECT trigger_name FROM information_schema.triggers;
--> value 'on_d'
ALTER TABLE t ALTER d DROP EXPRESSION;
--> fails 42704
ALTER TABLE t ALTER c DROP EXPRESSION;
INSERT INTO t (a, c) VALUES (2, 9);
SELECT a, c, d FROM t ORDER BY a;
--> rows
-->   1 | 2 | 5
-->   2 | 9 | NULL
DROP TRIGGER on_d;
DROP TRIGGER on_d;
--> fails 42704
UPDATE t SET d = 6;
--> change t ~2
SELECT COUNT(*) FROM log;
--> value 4
--# case functions that tables and domains use
CREATE FUNCTION half(n INTEGER) RETURNS INTEGER DETERMINISTIC RETURN n / 2;
CREATE TABLE g (a INTEGER, h INTEGER GENERATED ALWAYS AS (half(a)), k INTEGER CHECK (half(k) < 9));
CREATE DOMAIN small AS INTEGER DEFAULT 4 CHECK (half(VALUE) < 9);
CREATE TABLE uses (s small);
DROP FUNCTION half;
--> fails 42893
CREATE OR REPLACE FUNCTION half(n INTEGER) RETURNS INTEGER DETERMINISTIC RETURN n / 3;
INSERT INTO g (a, k) VALUES (9, 26);
INSERT INTO g (a, k) VALUES (9, 27);
--> fails 23514
SELECT a, h, k FROM g;
--> rows
-->   9 | 3 | 26
INSERT INTO uses VALUES (27);
--> fails 23514
INSERT INTO uses VALUES (DEFAULT);
SELECT s FROM uses;
--> value 4
INSERT INTO uses VALUES (27);
--> fails 23514
INSERT INTO g (a, k) VALUES (9, 27);
--> fails 23514
SELECT * FROM g ORDER BY k;
--> rows
-->   9 | 3 | 26
DROP DOMAIN small;
--> fails 42893
DROP DOMAIN small CASCADE;
INSERT INTO uses VALUES (1);
SELECT s FROM uses ORDER BY s;
--> rows
-->   1
-->   4
