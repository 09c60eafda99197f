--# case E071-02 7.17 UNION ALL keeps all
SELECT a FROM pair UNION ALL SELECT a FROM pair;
--> count 12
SELECT NULL UNION ALL SELECT 1;
--> rows
-->   NULL
-->   1
SELECT 1 UNION ALL SELECT 1, 2;
--> fails 42601
--# case E071-02 7.17 UNION ALL counts m and n rows as m + n
SELECT COUNT(*) FROM (SELECT a FROM pair WHERE a = 2 UNION ALL SELECT a FROM pair WHERE a = 2) AS t;
--> value 4