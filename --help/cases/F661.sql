--# case F661 7.17 TABLE as a query
TABLE pair ORDER BY a NULLS LAST, b FETCH FIRST 1 ROW ONLY;
--> rows
-->   1 | 10
SELECT COUNT(*) FROM (TABLE pair UNION ALL TABLE pair) d;
--> value 12
SELECT 30 IN (SELECT b FROM (TABLE pair) t);
--> value TRUE
TABLE nothing;
--> fails 42704
--# case F661 7.17 TABLE name is all its columns
TABLE pair EXCEPT ALL SELECT a, b FROM pair WHERE a IS NOT NULL;
--> rows in any order
-->   NULL | 30
-->   NULL | NULL