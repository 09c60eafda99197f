-- F131-01 Grouped operations: WHERE, GROUP BY, and HAVING clauses supported in queries with grouped views
--# case WHERE, GROUP BY and HAVING over grouped views
CREATE VIEW totals (hut, nights, total) AS SELECT hut, COUNT(*), SUM(price) FROM stay GROUP BY hut;
SELECT nights, COUNT(*) FROM totals WHERE total IS NOT NULL GROUP BY nights HAVING COUNT(*) = 1 ORDER BY nights;
--> rows
-->   2 | 1
-->   3 | 1
SELECT hut, nights FROM totals GROUP BY nights;
--> fails 42803
