--# case E141 11.6 constraints together
CREATE TABLE room (hut CHAR(4) REFERENCES hut, no INTEGER, beds INTEGER DEFAULT 2 CHECK (beds < 9), PRIMARY KEY (hut, no));
INSERT INTO room (hut, no) VALUES ('VARN', 1);
--> change room +1
INSERT INTO room VALUES ('VARN', 1, 3);
--> fails 23505
INSERT INTO room VALUES ('NONE', 1, 3);
--> fails 23503
INSERT INTO room VALUES ('VARN', 2, 10);
--> fails 23514
INSERT INTO room VALUES ('VARN', 3, NULL);
--> change room +1
--# case E141 11.4 a named constraint says what it is
CREATE TABLE t (a INTEGER CONSTRAINT x);
--> fails 42601