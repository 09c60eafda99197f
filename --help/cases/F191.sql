--# case F191 11.8 referential delete actions
CREATE TABLE p (id INTEGER PRIMARY KEY);
CREATE TABLE c1 (p INTEGER REFERENCES p ON DELETE CASCADE);
CREATE TABLE c2 (p INTEGER REFERENCES p ON DELETE SET NULL);
CREATE TABLE c3 (p INTEGER DEFAULT 9 REFERENCES p ON DELETE SET DEFAULT);
INSERT INTO p VALUES (1), (2), (9);
INSERT INTO c1 VALUES (1), (NULL);
INSERT INTO c2 VALUES (1);
INSERT INTO c3 VALUES (1);
DELETE FROM p WHERE id = 1;
--> change c1 -1
--> change c2 ~1
--> change c3 ~1
SELECT c2.p, c3.p FROM c2, c3;
--> rows
-->   NULL | 9
DELETE FROM p WHERE id = 9;
--> fails 23503
--# case F191 11.8 CASCADE goes on from child to child, SET NULL and SET DEFAULT end it
CREATE TABLE a (id INTEGER PRIMARY KEY);
CREATE TABLE b (id INTEGER PRIMARY KEY, a INTEGER REFERENCES a ON DELETE CASCADE);
CREATE TABLE c (id INTEGER, b INTEGER DEFAULT 9 REFERENCES b ON DELETE SET DEFAULT);
INSERT INTO a VALUES (1), (2);
INSERT INTO b VALUES (1, 1), (9, 2);
INSERT INTO c VALUES (1, 1);
DELETE FROM a WHERE id = 1;
--> change a -1
--> change b -1
--> change c ~1
SELECT b FROM c;
--> value 9
DELETE FROM a;
--> fails 23503
--# case F191 11.8 a table that refers to itself cascades to the last row
CREATE TABLE t (id INTEGER PRIMARY KEY, up INTEGER REFERENCES t ON DELETE CASCADE);
INSERT INTO t VALUES (1, NULL), (2, 1), (3, 2), (4, 1), (5, NULL);
DELETE FROM t WHERE id = 1;
--> change t -4
--# case F191 11.8 a row that one key changes and another one, or the statement, removes is removed
CREATE TABLE t (id INTEGER PRIMARY KEY, up INTEGER REFERENCES t ON DELETE SET NULL);
CREATE TABLE c (a INTEGER REFERENCES t ON DELETE CASCADE, b INTEGER REFERENCES t ON DELETE SET NULL);
INSERT INTO t VALUES (1, NULL), (2, 1), (3, 2);
INSERT INTO c VALUES (1, 1), (3, 1), (3, 3);
DELETE FROM t WHERE id < 3;
--> change t ~1 -2
SELECT id, up FROM t;
--> rows
-->   3 | NULL
SELECT a, b FROM c ORDER BY b;
--> rows
-->   3 | 3
-->   3 | NULL
--# case F191 15.19 triggers of the statement fire for a table that a cascade reaches, before and after, for the columns that it sets
CREATE TABLE p (id INTEGER PRIMARY KEY, up INTEGER REFERENCES p ON UPDATE CASCADE);
CREATE TABLE c (id INTEGER, p INTEGER REFERENCES p ON UPDATE CASCADE);
CREATE TRIGGER a BEFORE UPDATE OF p ON c FOR EACH STATEMENT CALL note('before');
CREATE TRIGGER b AFTER UPDATE OF p ON c FOR EACH STATEMENT CALL note('after');
CREATE TRIGGER d AFTER UPDATE OF id ON c FOR EACH STATEMENT CALL note('never');
CREATE TRIGGER e AFTER UPDATE OF up ON p REFERENCING NEW AS n FOR EACH ROW CALL note('up of ' || CAST(n.id AS VARCHAR(9)));
INSERT INTO p VALUES (1, NULL), (2, 1);
INSERT INTO c VALUES (1, 1), (2, 2);
UPDATE p SET id = id + 5;
--> note 'before'
--> note 'up of 7'
--> note 'after'
--# case F191 11.8 triggers fire for what a cascade does
CREATE TABLE p (id INTEGER PRIMARY KEY);
CREATE TABLE c (p INTEGER REFERENCES p ON DELETE CASCADE);
CREATE TRIGGER t AFTER DELETE ON c REFERENCING OLD AS o FOR EACH ROW CALL note('gone');
INSERT INTO p VALUES (1);
INSERT INTO c VALUES (1);
DELETE FROM p;
--> note 'gone'