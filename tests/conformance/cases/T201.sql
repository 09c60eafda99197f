-- T201 Comparable data types for referential constraints
--# case referential constraints over comparable types
CREATE TABLE p (id BIGINT PRIMARY KEY, name VARCHAR(10) UNIQUE);
CREATE TABLE c (p SMALLINT REFERENCES p, name VARCHAR(30) REFERENCES p (name));
INSERT INTO p VALUES (1, 'one');
INSERT INTO c VALUES (1, 'one'), (NULL, NULL);
--> change c +2
INSERT INTO c VALUES (2, 'one');
--> fails 23503
CREATE TABLE d (p VARCHAR(5) REFERENCES p);
--> fails 42830
