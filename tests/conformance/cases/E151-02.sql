-- E151-02 Transaction support: ROLLBACK statement
--# case ROLLBACK takes the work back
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
