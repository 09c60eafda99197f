--# case E101-01 14.11 INSERT of rows and of a query
INSERT INTO pair VALUES (7, 70), (8, NULL);
--> change pair +2
INSERT INTO pair (b) SELECT height FROM hut WHERE code = 'VARN';
--> change pair +1
SELECT a, b FROM pair WHERE b = 1840;
--> rows
-->   NULL | 1840
INSERT INTO pair VALUES (1, 2, 3);
--> fails 42601
INSERT INTO pair (a, c) VALUES (1, 2);
--> fails 42703
--# case E101-01 14.11 columns that are not named take their defaults, or NULL
INSERT INTO guest (id, name) VALUES (200, 'Orla');
SELECT name, born, member FROM guest WHERE id = 200;
--> rows
-->   'Orla' | NULL | NULL
--# case E101-01 14.11 the columns in an order of one's own
INSERT INTO pair (b, a) VALUES (7, 70);
SELECT a FROM pair WHERE b = 7;
--> value 70
--# case E101-01 14.11 a query gives rows by place, not by name
INSERT INTO pair SELECT b AS a, a AS b FROM pair WHERE a = 1;
SELECT b FROM pair WHERE a = 10;
--> value 1
--# case E101-01 14.11 the query is over before the first row goes in
INSERT INTO pair SELECT a, b FROM pair;
--> count 6
--# case E101-01 14.11 when one row cannot go in, none does
INSERT INTO pair VALUES (7, 7), (8, 1 / 0);
--> fails 22012
SELECT COUNT(*) FROM pair;
--> value 6
--# case E101-01 14.11 a column named twice is refused
INSERT INTO pair (a, a) VALUES (1, 2);
--> fails 42701
--# case E101-01 14.11 too few values are refused
INSERT INTO pair (a, b) VALUES (1);
--> fails 42601
--# case E101-01 14.11 the types must be assignable
INSERT INTO pair VALUES (DATE '2031-01-01', 1);
--> fails 42804
--# case E101-01 14.11 no rows are 02000
INSERT INTO pair SELECT a, b FROM pair WHERE FALSE;
--> no change