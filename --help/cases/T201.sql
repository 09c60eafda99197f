--# case T201 11.8 referential constraints over comparable types
CREATE TABLE p (id BIGINT PRIMARY KEY, name VARCHAR(10) UNIQUE);
CREATE TABLE c (p SMALLINT REFERENCES p, name VARCHAR(30) REFERENCES p (name));
INSERT INTO p VALUES (1, 'one');
INSERT INTO c VALUES (1, 'one'), (NULL, NULL);
--> change c +2
INSERT INTO c VALUES (2, 'one');
--> fails 23503
CREATE TABLE d (p VARCHAR(5) REFERENCES p);
--> fails 42830
--# case T201 11.8 a CHAR key and a VARCHAR that refers to it compare as equality does
CREATE TABLE t (code VARCHAR(10) REFERENCES hut);
INSERT INTO t VALUES ('VARN'), (NULL);
--> change t +2
INSERT INTO t VALUES ('VAR');
--> fails 23503