-- E051-01 Basic query specification: SELECT DISTINCT
--# case SELECT DISTINCT takes NULLs as one
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
