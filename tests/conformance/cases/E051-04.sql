-- E051-04 Basic query specification: GROUP BY can contain columns not in <select list>
--# case grouped columns need not be selected
SELECT COUNT(*) FROM pair GROUP BY a, b;
--> count 6
SELECT MAX(height) FROM hut GROUP BY beds HAVING beds < 10;
--> rows in any order
-->   2790
-->   NULL
SELECT COUNT(*) FROM pair GROUP BY c;
--> fails 42703
