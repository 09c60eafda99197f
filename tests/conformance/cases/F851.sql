-- F851 <order by clause> in subqueries
--# case ORDER BY in subqueries
SELECT a FROM pair WHERE b = (SELECT b FROM pair ORDER BY b DESC NULLS LAST FETCH FIRST 1 ROW ONLY);
--> value NULL
SELECT COUNT(*) FROM (SELECT a FROM pair ORDER BY b) d;
--> value 6
SELECT 1 IN (SELECT a FROM pair ORDER BY z);
--> fails 42703
