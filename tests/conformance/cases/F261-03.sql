-- F261-03 CASE expression: NULLIF
--# case NULLIF
SELECT NULLIF(1, 1), NULLIF(1, 2), NULLIF(NULL, 1), NULLIF('a', 'b');
--> rows
-->   NULL | 1 | NULL | 'a'
SELECT NULLIF(1);
--> fails 42884
SELECT NULLIF(1, DATE '2031-01-01');
--> fails 42804
