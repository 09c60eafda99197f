--# case F261-02 6.12 searched CASE takes the first that is true
SELECT CASE WHEN NULL THEN 1 WHEN 1 = 1 THEN 2 WHEN TRUE THEN 3 END, CASE WHEN FALSE THEN 1 END;
--> rows
-->   2 | NULL
SELECT CASE WHEN a = 0 THEN 1 / a ELSE a END FROM pair WHERE a = 3;
--> value 3
SELECT CASE WHEN 1 THEN 2 END;
--> fails 42804
--# case F261-02 6.12 conditions are asked in order, and not after the first that is true
SELECT CASE WHEN 1 = 1 THEN 'a' WHEN 1 / 0 = 1 THEN 'b' END, CASE WHEN NULL THEN 1 ELSE 2 END;
--> rows
-->   'a' | 2
--# case F261-02 6.12 results of several types take the one that holds all
SELECT CASE WHEN 1 = 2 THEN 1 ELSE 2.25 END, CASE WHEN 1 = 1 THEN NULL ELSE 5 END;
--> rows
-->   2.25 | NULL
--# case F261-02 6.12 a CASE of NULLs alone has no type
SELECT CASE WHEN TRUE THEN NULL END;
--> value NULL