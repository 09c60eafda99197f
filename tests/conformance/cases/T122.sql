-- T122 WITH (excluding RECURSIVE) in subquery
--# case WITH in a subquery
SELECT name FROM hut WHERE height = (WITH h AS (SELECT MAX(height) AS m FROM hut) SELECT m FROM h);
--> value 'Selt refuge'
SELECT (WITH e AS (SELECT a FROM pair WHERE a > 9) SELECT a FROM e);
--> value NULL
SELECT a FROM (WITH q AS (SELECT 1 AS a) SELECT a FROM q) d, q;
--> fails 42704
