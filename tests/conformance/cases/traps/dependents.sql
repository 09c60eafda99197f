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
