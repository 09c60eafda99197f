-- F781 Self-referencing operations
--# case statements that read the table they change
INSERT INTO pair SELECT a + 10, b FROM pair WHERE a IS NOT NULL;
--> change pair +4
UPDATE pair SET b = (SELECT MAX(b) FROM pair) WHERE b IS NULL;
--> change pair ~3
DELETE FROM pair WHERE a > (SELECT AVG(a) FROM pair);
--> change pair -4
INSERT INTO pair SELECT a FROM pair;
--> fails 42601
