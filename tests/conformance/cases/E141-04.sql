-- E141-04 Basic integrity constraints: Basic FOREIGN KEY constraint with the NO ACTION default for both referential delete action and referential update action
--# case FOREIGN KEY with NO ACTION
INSERT INTO stay VALUES (20, 'NONE', 101, NULL, NULL);
--> fails 23503
DELETE FROM guest WHERE id = 101;
--> fails 23503
UPDATE guest SET id = 999 WHERE id = 101;
--> fails 23503
INSERT INTO stay VALUES (20, 'VARN', NULL, NULL, NULL);
--> change stay +1
CREATE TABLE t (a INTEGER REFERENCES pair);
--> fails 42830
