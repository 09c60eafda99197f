-- F381 Extended schema manipulation
--# case tables are changed after they were made
ALTER TABLE pair ALTER COLUMN b SET DEFAULT 5;
ALTER TABLE pair ADD CONSTRAINT low CHECK (a < 100);
INSERT INTO pair (a) VALUES (99), (NULL);
SELECT COUNT(*) FROM pair WHERE b = 5;
--> value 2
ALTER TABLE pair DROP CONSTRAINT low;
INSERT INTO pair (a) VALUES (100);
--> change pair +1
ALTER TABLE nothing ADD COLUMN a INTEGER;
--> fails 42704
