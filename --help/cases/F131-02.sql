--# case F131-02 7.13 several tables beside grouped views
CREATE VIEW totals (hut, total) AS SELECT hut, SUM(price) FROM stay GROUP BY hut;
SELECT h.name, t.total FROM hut h LEFT JOIN totals t ON t.hut = h.code ORDER BY h.name;
--> rows
-->   'Dorn cabin' | NULL
-->   'Kolm hut' | 84.00
-->   'Selt refuge' | NULL
-->   'Varn hut' | 73.50
SELECT 1 FROM totals t JOIN hut h ON t.total = h.name;
--> fails 42804