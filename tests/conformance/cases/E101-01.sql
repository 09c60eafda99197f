-- E101-01 Basic data manipulation: INSERT statement
--# case INSERT of rows and of a query
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
