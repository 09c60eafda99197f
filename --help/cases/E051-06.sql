--# case E051-06 7.14 HAVING chooses groups
SELECT hut FROM stay GROUP BY hut HAVING SUM(price) > 80;
--> value 'KOLM'
SELECT COUNT(*) FROM pair HAVING COUNT(a) = 4;
--> value 6
SELECT hut FROM stay GROUP BY hut HAVING SUM(price) > NULL;
--> no rows
SELECT hut FROM stay GROUP BY hut HAVING price > 3;
--> fails 42803
--# case E051-06 7.14 HAVING without GROUP BY is about the one group of all rows
SELECT SUM(a) FROM pair HAVING COUNT(*) > 100;
--> no rows
--# case E051-06 7.14 unknown does not keep a group
SELECT a FROM pair GROUP BY a HAVING MAX(b) > 15 ORDER BY a;
--> rows
-->   2
-->   NULL
--# case E051-06 7.14 HAVING over no rows at all
SELECT COUNT(*) FROM pair WHERE FALSE HAVING COUNT(*) = 0;
--> value 0
--# case E051-06 7.14 only grouped columns stand outside of set functions
SELECT COUNT(*) FROM pair HAVING a = 1;
--> fails 42803