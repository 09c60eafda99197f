--# case F850 7.17 ORDER BY at the end of a query expression
SELECT a FROM pair UNION SELECT 0 ORDER BY a DESC NULLS LAST;
--> rows
-->   3
-->   2
-->   1
-->   0
-->   NULL
VALUES (2), (NULL), (1) ORDER BY 1 NULLS FIRST;
--> rows
-->   NULL
-->   1
-->   2
SELECT a FROM pair UNION SELECT 0 ORDER BY z;
--> fails 42703
--# case F850 14.3 ORDER BY of a table operator sees the columns of the result only
SELECT a FROM pair UNION SELECT b FROM pair ORDER BY b + 1;
--> fails 42703