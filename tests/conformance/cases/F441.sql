-- F441 Extended set function support
--# case set functions over expressions, and of outer columns
SELECT SUM(a * 2 + 1), COUNT(DISTINCT a + b), MAX(CASE WHEN a IS NULL THEN 9 ELSE a END) FROM pair;
--> rows
-->   20 | 3 | 9
SELECT h.code FROM hut h WHERE 28 = (SELECT MIN(s.price) FROM stay s WHERE s.hut = h.code);
--> value 'KOLM'
SELECT SUM(SUM(a)) FROM pair;
--> fails 42803
