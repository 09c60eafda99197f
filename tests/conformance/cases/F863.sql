-- F863 Nested <result offset clause> in <query expression>
--# case OFFSET in the operands of table operators
(SELECT id FROM guest ORDER BY id OFFSET 3 ROWS) UNION ALL (SELECT NULL OFFSET 0 ROWS);
--> rows
-->   104
-->   NULL
(SELECT id FROM guest OFFSET -1 ROWS) UNION ALL SELECT 1;
--> fails 2201X
