-- E071-05 Basic query expressions: Columns combined via table operators need not have exactly the same data type
--# case columns of table operators need not have one type
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
