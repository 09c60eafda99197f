-- F261-02 CASE expression: Searched CASE
--# case searched CASE takes the first that is true
SELECT CASE WHEN NULL THEN 1 WHEN 1 = 1 THEN 2 WHEN TRUE THEN 3 END, CASE WHEN FALSE THEN 1 END;
--> rows
-->   2 | NULL
SELECT CASE WHEN a = 0 THEN 1 / a ELSE a END FROM pair WHERE a = 3;
--> value 3
SELECT CASE WHEN 1 THEN 2 END;
--> fails 42804
