--# case E051-04 7.13 grouped columns need not be selected
SELECT COUNT(*) FROM pair GROUP BY a, b;
--> count 6
SELECT MAX(height) FROM hut GROUP BY beds HAVING beds < 10;
--> rows in any order
-->   2790
-->   NULL
SELECT COUNT(*) FROM pair GROUP BY c;
--> fails 42703
--# case E051-04 7.13 what is grouped by need not be shown, nor be one of the columns shown
SELECT MAX(name) FROM hut GROUP BY beds > 10 ORDER BY 1;
--> rows
-->   'Selt refuge'
-->   'Varn hut'