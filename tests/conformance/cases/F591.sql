-- F591 Derived tables
--# case derived tables
SELECT d.code, d.n FROM (SELECT hut AS code, COUNT(*) AS n FROM stay GROUP BY hut) AS d WHERE d.n > 1 ORDER BY d.n;
--> rows
-->   'VARN' | 2
-->   'KOLM' | 3
SELECT x FROM (VALUES (1), (NULL)) AS v (x) WHERE x IS NULL;
--> value NULL
SELECT d.z FROM (SELECT a FROM pair) AS d;
--> fails 42703
SELECT 1 FROM pair p, (SELECT p.a) AS d;
--> fails 42703
