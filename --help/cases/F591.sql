--# case F591 7.6 derived tables
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
--# case F591 7.6 a derived table without a name is taken too, its columns by name
SELECT d.x + 1 FROM (SELECT 1 AS x) AS d;
--> value 2
--# case F591 7.6 its columns need names of their own only where they are named
SELECT COUNT(*) FROM (SELECT a, a FROM pair) AS d;
--> value 6
--# case F591 7.6 a column that it has twice cannot be named
SELECT d.a FROM (SELECT a, a FROM pair) AS d;
--> fails 42702