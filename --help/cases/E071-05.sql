--# case E071-05 7.17 columns of table operators need not have one type
SELECT 1 UNION ALL SELECT 2.5 UNION ALL SELECT CAST(3 AS SMALLINT);
--> rows
-->   1.0
-->   2.5
-->   3.0
SELECT 'ab' UNION SELECT CAST(NULL AS CHAR(5));
--> rows in any order
-->   'ab'
-->   NULL
SELECT TRUE UNION SELECT 1;
--> fails 42804
--# case E071-05 9.5 the columns of UNION have the type that holds both, and the names of the first
SELECT 1 AS n UNION ALL SELECT 2.5 AS m ORDER BY n;
--> rows
-->   1.0
-->   2.5
--# case E071-05 9.5 a NULL without a type takes that of the other side
SELECT NULL UNION SELECT DATE '2031-01-01';
--> count 2