-- E061-12 Basic predicates and search conditions: Subqueries in quantified comparison predicate
--# case a subquery in a quantified comparison
SELECT name FROM hut h WHERE height >= ALL (SELECT height FROM hut WHERE height IS NOT NULL);
--> rows
-->   'Selt refuge'
SELECT name FROM hut WHERE height >= ALL (SELECT height FROM hut);
--> no rows
SELECT 'a' > ALL (SELECT height FROM hut);
--> fails 42804
