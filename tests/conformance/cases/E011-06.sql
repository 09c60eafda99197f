-- E011-06 Numeric data types: Implicit casting among the numeric data types
--# case numbers are cast to each other where they are assigned
INSERT INTO stay VALUES (9, 'VARN', NULL, NULL, 12);
SELECT price FROM stay WHERE id = 9;
--> value 12.00
UPDATE stay SET price = 1E1 WHERE id = 9;
--> change stay (9) price 12.00 -> 10.00
INSERT INTO pair VALUES (1.6, NULL);
--> change pair +1
SELECT a FROM pair WHERE b IS NULL AND a = 2;
--> count 2
INSERT INTO pair VALUES ('3', 1);
--> fails 42804
