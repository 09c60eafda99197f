--# case E141-10 11.8 columns of a foreign key in any order
CREATE TABLE parent (a INTEGER, b VARCHAR(3), PRIMARY KEY (a, b));
CREATE TABLE child (y VARCHAR(3), x INTEGER, FOREIGN KEY (y, x) REFERENCES parent (b, a));
INSERT INTO parent VALUES (1, 'p');
INSERT INTO child VALUES ('p', 1), (NULL, 5);
--> change child +2
INSERT INTO child VALUES ('q', 1);
--> fails 23503
CREATE TABLE wrong (y VARCHAR(3), x INTEGER, FOREIGN KEY (y, x) REFERENCES parent (a, b));
--> fails 42830