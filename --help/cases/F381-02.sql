--# case F381-02 11.24 ADD CONSTRAINT checks the rows that are there
ALTER TABLE pair ADD CONSTRAINT low CHECK (a < 3);
--> fails 23514
ALTER TABLE pair ADD CONSTRAINT k UNIQUE (a);
--> fails 23505
ALTER TABLE pair ADD CONSTRAINT low CHECK (a < 4);
INSERT INTO pair VALUES (NULL, 1);
--> change pair +1
INSERT INTO pair VALUES (4, 1);
--> fails 23514 like '%low%'
ALTER TABLE pair ADD CONSTRAINT f FOREIGN KEY (b) REFERENCES guest;
--> fails 23503
--# case F381-02 11.24 a constraint is checked with the rows that there are
ALTER TABLE hut ADD CHECK (height > 2000);
--> fails 23514