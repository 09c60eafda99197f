-- F261-01 CASE expression: Simple CASE
--# case simple CASE: NULL equals nothing
SELECT CASE a WHEN 1 THEN 'one' WHEN NULL THEN 'null' ELSE 'other' END FROM pair WHERE a = 1 OR a IS NULL ORDER BY a NULLS LAST;
--> rows
-->   'one'
-->   'other'
-->   'other'
SELECT CASE 1 WHEN 'a' THEN 1 END;
--> fails 42804
