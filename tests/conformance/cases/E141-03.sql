-- E141-03 Basic integrity constraints: PRIMARY KEY constraints
--# case PRIMARY KEY
INSERT INTO hut VALUES ('VARN', 'again', 1, 1, NULL);
--> fails 23505 like '%VARN%'
UPDATE hut SET code = 'KOLM' WHERE code = 'DORN';
--> fails 23505
INSERT INTO hut (name) VALUES ('no code');
--> fails 23502
CREATE TABLE t (a INTEGER PRIMARY KEY, b INTEGER PRIMARY KEY);
--> fails 42710
