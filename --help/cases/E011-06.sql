--# case E011-06 9.2 numbers are cast to each other where they are assigned
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
--# case E011-06 9.2 a fraction assigned to an integer is rounded half away from nought
CREATE TABLE n (i INTEGER, d DECIMAL(4,1), f DOUBLE PRECISION);
INSERT INTO n VALUES (0.5, 0.05, 1), (-0.5, -0.05, 2), (1.49, 0.049, 3);
SELECT i, d FROM n ORDER BY f;
--> rows
-->   1 | 0.1
-->   -1 | -0.1
-->   1 | 0.0
--# case E011-06 9.5 the result of a CASE or a table operator has the type that holds them all
SELECT CASE WHEN 1 = 1 THEN 1 ELSE 2.50 END, COALESCE(1, 0.5), (SELECT 1 UNION SELECT 1.00);
--> rows
-->   1.00 | 1.0 | 1.00
--# case E011-06 10.4 an argument is widened to the parameter's type
CREATE FUNCTION half(x DECIMAL(6,2)) RETURNS DECIMAL(6,2) RETURN x / 2;
SELECT half(5), half(CAST(3 AS SMALLINT)), half(0.01);
--> rows
-->   2.50 | 1.50 | 0.01