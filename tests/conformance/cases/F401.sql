-- F401 Extended joined table
--# case joined tables of every kind
SELECT COUNT(*) FROM pair NATURAL JOIN (SELECT DISTINCT a FROM pair) d;
--> value 4
SELECT COUNT(*) FROM pair p FULL JOIN (VALUES (1), (9)) AS v (x) ON v.x = p.a CROSS JOIN (VALUES (1), (2)) AS w (y);
--> value 14
SELECT 1 FROM pair NATURAL pair;
--> fails 42601
