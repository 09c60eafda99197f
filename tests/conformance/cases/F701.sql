-- F701 Referential update actions
--# case referential update actions
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
