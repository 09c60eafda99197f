-- T176 Sequence generator support
--# case sequence generators
CREATE SEQUENCE s AS INTEGER START WITH 3 INCREMENT BY 2 MAXVALUE 8;
SELECT NEXT VALUE FOR s;
--> value 3
INSERT INTO pair VALUES (NEXT VALUE FOR s, NULL);
SELECT a FROM pair WHERE a = 5;
--> value 5
CREATE FUNCTION next_one() RETURNS INTEGER RETURN NEXT VALUE FOR s;
SELECT next_one();
--> value 7
SELECT NEXT VALUE FOR s;
--> fails 2200H
CREATE SEQUENCE c MINVALUE 1 MAXVALUE 2 CYCLE;
CREATE TABLE drawn (n BIGINT);
INSERT INTO drawn SELECT NEXT VALUE FOR c FROM hut;
SELECT SUM(n) FROM drawn;
--> value 6
CREATE SEQUENCE w INCREMENT BY 0;
--> fails 42601
SELECT NEXT VALUE FOR nothing;
--> fails 42704

--# case one value for each row, however often it stands there
CREATE SEQUENCE s START WITH 5;
SELECT NEXT VALUE FOR s, NEXT VALUE FOR s + 100 FROM (VALUES 1, 2) AS v (x);
--> rows
-->   5 | 105
-->   6 | 106
INSERT INTO pair VALUES (NEXT VALUE FOR s, NEXT VALUE FOR s);
UPDATE pair SET a = NEXT VALUE FOR s, b = NEXT VALUE FOR s WHERE a = 7;
SELECT a, b FROM pair WHERE a > 6;
--> rows
-->   8 | 8
