-- E061-09 Basic predicates and search conditions: Subqueries in comparison predicate
--# case a subquery in a comparison
SELECT a FROM pair WHERE b = (SELECT MIN(b) FROM pair) ORDER BY a;
--> rows
-->   1
-->   3
SELECT 1 = (SELECT a FROM pair WHERE a = 99);
--> value NULL
SELECT 1 = (SELECT a FROM pair);
--> fails 21000
