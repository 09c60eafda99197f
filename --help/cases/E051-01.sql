--# case E051-01 7.16 SELECT DISTINCT takes NULLs as one
SELECT DISTINCT a FROM pair;
--> rows in any order
-->   1
-->   2
-->   3
-->   NULL
SELECT DISTINCT hut, price FROM stay WHERE hut = 'KOLM';
--> count 1
SELECT DISTINCT a FROM pair ORDER BY b;
--> fails 42601
--# case E051-01 7.16 rows are equal where no column is distinct
SELECT DISTINCT x, y FROM (VALUES (1, NULL), (1, NULL), (NULL, 1), (1, 1)) AS t (x, y);
--> count 3
--# case E051-01 7.16 DISTINCT comes behind the select list
SELECT DISTINCT a * 0 FROM pair WHERE a IS NOT NULL;
--> value 0
--# case E051-01 7.16 ALL is what is meant without a word
SELECT ALL a FROM pair;
--> count 6
--# case E051-01 7.16 DISTINCT over equal values of several types
SELECT DISTINCT x FROM (VALUES (1), (1.0), (1.00)) AS t (x);
--> count 1