--# case F858 7.17 FETCH FIRST in subqueries
SELECT name FROM hut WHERE height IN (SELECT height FROM hut ORDER BY height FETCH FIRST 1 ROW ONLY);
--> value 'Varn hut'
SELECT (SELECT a FROM pair WHERE a IS NULL FETCH FIRST ROW ONLY);
--> value NULL
SELECT 1 IN (SELECT a FROM pair FETCH FIRST a ROWS ONLY);
--> fails 42703