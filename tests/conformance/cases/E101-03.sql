-- E101-03 Basic data manipulation: Searched UPDATE statement
--# case searched UPDATE
UPDATE pair SET b = b + 1, a = b WHERE a = 1;
--> count 1
SELECT a, b FROM pair WHERE b = 11;
--> rows
-->   10 | 11
UPDATE pair SET b = NULL WHERE a IS NULL AND b = 30;
--> change pair ~1
UPDATE pair SET c = 1;
--> fails 42703
UPDATE pair SET a = 1, a = 2;
--> fails 42701
