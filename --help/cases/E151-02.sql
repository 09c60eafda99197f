--# case E151-02 17.8 ROLLBACK takes the work back
UPDATE pair SET b = 99 WHERE a = 1;
ROLLBACK WORK;
--> rolled back
SELECT b FROM pair WHERE a = 1;
--> value 10
CREATE TABLE gone (a INTEGER);
ROLLBACK;
SELECT * FROM gone;
--> fails 42704
ROLLBACK TO nowhere;
--> fails 3B001
--# case E151-02 17.8 ROLLBACK takes back definitions too
CREATE VIEW v AS SELECT a FROM pair;
ALTER TABLE pair ADD COLUMN c INTEGER;
ROLLBACK;
--> rolled back
SELECT a FROM v;
--> fails 42704
SELECT c FROM pair;
--> fails 42703
--# case E151-02 17.8 a deleted table comes back with its rows
DROP TABLE pair;
ROLLBACK;
SELECT COUNT(*) FROM pair;
--> value 6