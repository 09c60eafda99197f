-- F261 CASE expression
--# case CASE in its forms
SELECT a, CASE a WHEN 1 THEN 'one' ELSE CASE WHEN b > 10 THEN 'much' END END FROM pair WHERE a < 3 OR b = 30 ORDER BY a, b;
--> rows
-->   1 | 'one'
-->   2 | 'much'
-->   2 | NULL
-->   NULL | 'much'
SELECT CASE WHEN a = 1 THEN 1 ELSE 'x' END FROM pair;
--> fails 42804
