-- F131-04 Grouped operations: Subqueries with GROUP BY and HAVING clauses and grouped views
--# case subqueries with GROUP BY, HAVING and grouped views
CREATE VIEW totals (hut, total) AS SELECT hut, SUM(price) FROM stay GROUP BY hut;
SELECT name FROM hut WHERE code IN (SELECT hut FROM totals GROUP BY hut HAVING MAX(total) > 80);
--> rows
-->   'Kolm hut'
SELECT name FROM hut WHERE code NOT IN (SELECT hut FROM totals GROUP BY hut HAVING MAX(total) IS NULL) ORDER BY name FETCH FIRST 1 ROW ONLY;
--> value 'Dorn cabin'
SELECT name FROM hut WHERE code IN (SELECT hut FROM totals HAVING MAX(total) > 1);
--> fails 42803
