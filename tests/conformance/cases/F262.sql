-- F262 Extended CASE expression
--# case CASE with general operands and several conditions
SELECT CASE a + b WHEN 11 THEN 'eleven' WHEN (SELECT 22) THEN 'more' END FROM pair WHERE a < 3 AND b IS NOT NULL ORDER BY a;
--> rows
-->   'eleven'
-->   'more'
SELECT CASE WHEN a IS NULL AND b IS NULL THEN 'both' WHEN a IS NULL THEN 'a' END FROM pair WHERE a IS NULL ORDER BY b;
--> rows
-->   'a'
-->   'both'
SELECT CASE 1 WHEN DATE '2031-01-01' THEN 1 END;
--> fails 42804
