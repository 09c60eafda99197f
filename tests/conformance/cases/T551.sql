-- T551 Optional key words for default syntax
--# case key words that may be left out
SELECT ALL a FROM pair UNION DISTINCT SELECT ALL 1 EXCEPT DISTINCT SELECT NULL;
--> count 3
SELECT a FROM pair WHERE b BETWEEN ASYMMETRIC 10 AND 15 ORDER BY a ASC;
--> rows
-->   1
-->   3
SELECT DISTINCT ALL a FROM pair;
--> fails 42601
