-- F862 <result offset clause> in subqueries
--# case OFFSET in subqueries
SELECT (SELECT id FROM guest ORDER BY id OFFSET 1 ROW FETCH NEXT 1 ROW ONLY), (SELECT id FROM guest OFFSET 9 ROWS);
--> rows
-->   102 | NULL
SELECT 1 IN (SELECT id FROM guest OFFSET NULL ROWS);
--> fails 22004
