-- E051-06 Basic query specification: HAVING clause
--# case HAVING chooses groups
SELECT hut FROM stay GROUP BY hut HAVING SUM(price) > 80;
--> rows
-->   'KOLM'
SELECT COUNT(*) FROM pair HAVING COUNT(a) = 4;
--> value 6
SELECT hut FROM stay GROUP BY hut HAVING SUM(price) > NULL;
--> no rows
SELECT hut FROM stay GROUP BY hut HAVING price > 3;
--> fails 42803
