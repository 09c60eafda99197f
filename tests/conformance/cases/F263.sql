-- F263 Comma-separated predicates in simple CASE expression
--# case several values in one WHEN
SELECT a, CASE a WHEN 1, 2 THEN 'low' WHEN 3, 4 THEN 'high' END FROM pair WHERE b = 10 OR b = 30 ORDER BY a;
--> rows
-->   1 | 'low'
-->   3 | 'high'
-->   NULL | NULL
SELECT CASE 1 WHEN 2, 'x' THEN 1 END;
--> fails 42804
