--# case F441 10.9 set functions over expressions, and of outer columns
SELECT SUM(a * 2 + 1), COUNT(DISTINCT a + b), MAX(CASE WHEN a IS NULL THEN 9 ELSE a END) FROM pair;
--> rows
-->   20 | 3 | 9
SELECT h.code FROM hut h WHERE 28 = (SELECT MIN(s.price) FROM stay s WHERE s.hut = h.code);
--> value 'KOLM'
SELECT SUM(SUM(a)) FROM pair;
--> fails 42803
--# case F441 10.9 a set function of the query around
CREATE TABLE wood (hut CHAR(4), cords INTEGER);
INSERT INTO wood VALUES ('VARN', 3), ('VARN', 4), ('KESS', 1);
SELECT hut FROM wood GROUP BY hut HAVING EXISTS (SELECT 1 FROM (VALUES 5) AS v (least) WHERE SUM(wood.cords) > v.least);
--> value 'VARN'
SELECT hut FROM wood GROUP BY hut HAVING EXISTS (SELECT 1 FROM (VALUES 5) AS v (least) WHERE SUM(v.least) > 1);
--> fails 42803
SELECT MAX(x), MIN(x) FROM (VALUES TRUE, FALSE) AS v (x);
--> rows
-->   TRUE | FALSE
--# case F441 10.9 a set function over an outer column is of the outer query
SELECT (SELECT SUM(p.b) FROM (VALUES (1)) AS t (x)) FROM pair p;
--> value 70