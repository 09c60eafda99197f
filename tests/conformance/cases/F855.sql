-- F855 Nested <order by clause> in <query expression>
--# case ORDER BY in the operands of table operators
(SELECT a FROM pair WHERE a IS NOT NULL ORDER BY a DESC FETCH FIRST 1 ROW ONLY) UNION ALL (SELECT a FROM pair ORDER BY a NULLS FIRST FETCH FIRST 1 ROW ONLY);
--> rows
-->   3
-->   NULL
(SELECT a FROM pair ORDER BY z) UNION SELECT 1;
--> fails 42703
