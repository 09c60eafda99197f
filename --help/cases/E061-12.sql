--# case E061-12 8.9 a subquery in a quantified comparison
SELECT name FROM hut h WHERE height >= ALL (SELECT height FROM hut WHERE height IS NOT NULL);
--> value 'Selt refuge'
SELECT name FROM hut WHERE height >= ALL (SELECT height FROM hut);
--> no rows
SELECT 'a' > ALL (SELECT height FROM hut);
--> fails 42804
--# case E061-12 8.9 a correlated subquery is asked for each row
SELECT a FROM pair p WHERE b >= ALL (SELECT b FROM pair q WHERE q.a = p.a AND q.b IS NOT NULL) ORDER BY a;
--> rows
-->   1
-->   2
-->   3
-->   NULL
-->   NULL