--# case F131-01 7.13 WHERE, GROUP BY and HAVING over grouped views
CREATE VIEW totals (hut, nights, total) AS SELECT hut, COUNT(*), SUM(price) FROM stay GROUP BY hut;
SELECT nights, COUNT(*) FROM totals WHERE total IS NOT NULL GROUP BY nights HAVING COUNT(*) = 1 ORDER BY nights;
--> rows
-->   2 | 1
-->   3 | 1
SELECT hut, nights FROM totals GROUP BY nights;
--> fails 42803
--# case F131-01 7.13 a grouped view, grouped again, after a condition
CREATE VIEW v (hut, n) AS SELECT hut, COUNT(*) FROM stay GROUP BY hut;
SELECT n, COUNT(*) FROM v WHERE hut <> 'KOLM' GROUP BY n HAVING COUNT(*) = 1 ORDER BY n;
--> rows
-->   1 | 1
-->   2 | 1