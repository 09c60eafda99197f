--# case F261-01 6.12 simple CASE: NULL equals nothing
SELECT CASE a WHEN 1 THEN 'one' WHEN NULL THEN 'null' ELSE 'other' END FROM pair WHERE a = 1 OR a IS NULL ORDER BY a NULLS LAST;
--> rows
-->   'one'
-->   'other'
-->   'other'
SELECT CASE 1 WHEN 'a' THEN 1 END;
--> fails 42804
--# case F261-01 6.12 the operand is compared with =
SELECT CASE 2 WHEN 1 THEN 'a' WHEN 2 THEN 'b' WHEN 2 THEN 'c' END, CASE 1.0 WHEN 1 THEN 'same' END, CASE NULL WHEN NULL THEN 1 ELSE 0 END;
--> rows
-->   'b' | 'same' | 0
--# case F261-01 6.12 no match and no ELSE is NULL
SELECT CASE 5 WHEN 1 THEN 1 END;
--> value NULL