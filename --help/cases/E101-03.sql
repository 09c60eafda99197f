--# case E101-03 14.14 searched UPDATE
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
--# case E101-03 14.14 right sides see the row as it was
UPDATE pair SET a = b, b = a WHERE a = 1;
--> count 1
--# case E101-03 14.14 a column may be swapped with another
UPDATE pair SET a = b, b = a WHERE a = 3;
SELECT b FROM pair WHERE a = 10;
--> value 3
--# case E101-03 14.14 a row that keeps its values is still updated
UPDATE pair SET b = b;
--> count 6
--# case E101-03 14.14 without WHERE all rows
UPDATE pair SET a = 0;
--> count 6
--# case E101-03 14.14 a subquery sees the table as it was
UPDATE pair SET b = (SELECT COUNT(*) FROM pair WHERE b IS NULL) WHERE b IS NULL;
--> change pair ~2
--# case E101-03 14.14 a failing row leaves none changed
UPDATE pair SET b = 10 / (a - 3);
--> fails 22012
SELECT SUM(b) FROM pair;
--> value 70
--# case E101-03 14.14 a table can have a correlation name
UPDATE pair AS p SET b = 0 WHERE p.a = 1;
--> change pair ~1