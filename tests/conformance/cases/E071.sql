-- E071 Basic query expressions
--# case query expressions combined
SELECT a FROM pair UNION SELECT b FROM pair EXCEPT SELECT 10;
--> rows in any order
-->   1
-->   2
-->   3
-->   20
-->   30
-->   NULL
SELECT a FROM pair UNION SELECT a, b FROM pair;
--> fails 42601
