-- E071-02 Basic query expressions: UNION ALL table operator
--# case UNION ALL keeps all
SELECT a FROM pair UNION ALL SELECT a FROM pair;
--> count 12
SELECT NULL UNION ALL SELECT 1;
--> rows
-->   NULL
-->   1
SELECT 1 UNION ALL SELECT 1, 2;
--> fails 42601
