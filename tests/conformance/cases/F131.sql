-- F131 Grouped operations
--# case grouped views
CREATE VIEW totals (hut, nights, total) AS SELECT hut, COUNT(*), SUM(price) FROM stay GROUP BY hut;
SELECT hut FROM totals WHERE total > 80;
--> rows
-->   'KOLM'
UPDATE totals SET total = 0;
--> fails 42807
