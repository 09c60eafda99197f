--# case F131-03 7.13 set functions over grouped views
CREATE VIEW totals (hut, total) AS SELECT hut, SUM(price) FROM stay GROUP BY hut;
SELECT MAX(total), COUNT(*), COUNT(total) FROM totals;
--> rows
-->   84.00 | 3 | 2
SELECT hut, MAX(total) FROM totals;
--> fails 42803