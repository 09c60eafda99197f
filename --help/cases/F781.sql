--# case F781 14.14 statements that read the table they change
INSERT INTO pair SELECT a + 10, b FROM pair WHERE a IS NOT NULL;
--> change pair +4
UPDATE pair SET b = (SELECT MAX(b) FROM pair) WHERE b IS NULL;
--> change pair ~3
DELETE FROM pair WHERE a > (SELECT AVG(a) FROM pair);
--> change pair -4
INSERT INTO pair SELECT a FROM pair;
--> fails 42601
--# case F781 14.9 DELETE with the table itself in a subquery
DELETE FROM pair WHERE b < (SELECT MAX(b) FROM pair);
--> change pair -3
--# case F781 14.11 INSERT from itself twice over
INSERT INTO pair SELECT p.a, q.b FROM pair p, pair q WHERE p.a = q.a;
--> change pair +6