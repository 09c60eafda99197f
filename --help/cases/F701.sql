--# case F701 11.8 referential update actions
CREATE TABLE p (id INTEGER PRIMARY KEY);
CREATE TABLE c1 (p INTEGER REFERENCES p ON UPDATE CASCADE);
CREATE TABLE c2 (p INTEGER REFERENCES p ON UPDATE SET NULL);
CREATE TABLE c3 (p INTEGER DEFAULT 9 REFERENCES p ON UPDATE SET DEFAULT);
INSERT INTO p VALUES (1), (9);
INSERT INTO c1 VALUES (1), (NULL);
INSERT INTO c2 VALUES (1);
INSERT INTO c3 VALUES (1);
UPDATE p SET id = 2 WHERE id = 1;
--> change p ~1
--> change c1 ~1
--> change c2 ~1
--> change c3 ~1
SELECT MAX(c1.p), MAX(c2.p), MAX(c3.p) FROM c1, c2, c3;
--> rows
-->   2 | NULL | 9
UPDATE p SET id = 10 WHERE id = 9;
--> fails 23503
--# case F701 11.8 ON UPDATE CASCADE changes the children's key
CREATE TABLE p (id INTEGER PRIMARY KEY);
CREATE TABLE c (p INTEGER REFERENCES p ON UPDATE CASCADE);
INSERT INTO p VALUES (1), (2);
INSERT INTO c VALUES (1), (2), (NULL);
UPDATE p SET id = id + 10;
--> change c ~2
SELECT SUM(p) FROM c;
--> value 23
UPDATE p SET id = id;
--> no change
--# case F701 11.8 rows that refer are found before any key has moved: keys that take each other's places take their own along
CREATE TABLE p (id INTEGER PRIMARY KEY);
CREATE TABLE c (id INTEGER, p INTEGER REFERENCES p ON UPDATE CASCADE);
INSERT INTO p VALUES (1), (2), (3);
INSERT INTO c VALUES (1, 1), (2, 2), (3, 3);
UPDATE p SET id = 4 - id;
--> change c ~2
UPDATE p SET id = id + 1;
--> change c ~3
SELECT id, p FROM c ORDER BY id;
--> rows
-->   1 | 4
-->   2 | 3
-->   3 | 2