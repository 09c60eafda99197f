--# case F851 7.17 ORDER BY in subqueries
SELECT a FROM pair WHERE b = (SELECT b FROM pair ORDER BY b DESC NULLS LAST FETCH FIRST 1 ROW ONLY);
--> value NULL
SELECT COUNT(*) FROM (SELECT a FROM pair ORDER BY b) d;
--> value 6
SELECT 1 IN (SELECT a FROM pair ORDER BY z);
--> fails 42703
--# case F851 7.17 the first row of an order, for each outer row
SELECT h.code, (SELECT s.id FROM stay s WHERE s.hut = h.code ORDER BY s.price DESC NULLS LAST, s.id FETCH FIRST ROW ONLY) FROM hut h ORDER BY 1;
--> rows
-->   'DORN' | NULL
-->   'KOLM' | 3
-->   'SELT' | 5
-->   'VARN' | 2