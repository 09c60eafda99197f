--# case F131-04 7.13 subqueries with GROUP BY, HAVING and grouped views
CREATE VIEW totals (hut, total) AS SELECT hut, SUM(price) FROM stay GROUP BY hut;
SELECT name FROM hut WHERE code IN (SELECT hut FROM totals GROUP BY hut HAVING MAX(total) > 80);
--> value 'Kolm hut'
SELECT name FROM hut WHERE code NOT IN (SELECT hut FROM totals GROUP BY hut HAVING MAX(total) IS NULL) ORDER BY name FETCH FIRST 1 ROW ONLY;
--> value 'Dorn cabin'
SELECT name FROM hut WHERE code IN (SELECT hut FROM totals HAVING MAX(total) > 1);
--> fails 42803
--# case F131-04 7.13 a subquery with HAVING over a grouped view, correlated
CREATE VIEW v (hut, n) AS SELECT hut, COUNT(*) FROM stay GROUP BY hut;
SELECT code FROM hut h WHERE 2 < (SELECT MAX(n) FROM v WHERE v.hut = h.code HAVING COUNT(*) > 0);
--> value 'KOLM'