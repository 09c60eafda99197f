-- E071-06 Basic query expressions: Table operators in subqueries
--# case table operators in subqueries
SELECT COUNT(*) FROM (SELECT a FROM pair UNION SELECT b FROM pair) u;
--> value 7
SELECT name FROM hut WHERE height IN (SELECT 1840 UNION SELECT NULL);
--> rows
-->   'Varn hut'
SELECT (SELECT 1 UNION SELECT 2);
--> fails 21000
