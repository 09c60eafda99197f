--# case T122 7.17 WITH in a subquery
SELECT name FROM hut WHERE height = (WITH h AS (SELECT MAX(height) AS m FROM hut) SELECT m FROM h);
--> value 'Selt refuge'
SELECT (WITH e AS (SELECT a FROM pair WHERE a > 9) SELECT a FROM e);
--> value NULL
SELECT a FROM (WITH q AS (SELECT 1 AS a) SELECT a FROM q) d, q;
--> fails 42704
--# case T122 7.17 WITH in a subquery sees outer columns, and hides outer names
SELECT p.a, (WITH x AS (SELECT p.a * 10 AS n) SELECT n FROM x) FROM pair p WHERE p.b = 10 ORDER BY 1;
--> rows
-->   1 | 10
-->   3 | 30