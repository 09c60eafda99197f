--# case F263 6.12 several values in one WHEN
SELECT a, CASE a WHEN 1, 2 THEN 'low' WHEN 3, 4 THEN 'high' END FROM pair WHERE b = 10 OR b = 30 ORDER BY a;
--> rows
-->   1 | 'low'
-->   3 | 'high'
-->   NULL | NULL
SELECT CASE 1 WHEN 2, 'x' THEN 1 END;
--> fails 42804
--# case F263 6.12 several values: one equal is enough, NULL is none
SELECT CASE 3 WHEN 1, 2 THEN 'a' WHEN NULL, 3 THEN 'b' END, CASE NULL WHEN NULL, 1 THEN 'a' ELSE 'b' END;
--> rows
-->   'b' | 'b'