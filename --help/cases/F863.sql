--# case F863 7.17 OFFSET in the operands of table operators
(SELECT id FROM guest ORDER BY id OFFSET 3 ROWS) UNION ALL (SELECT NULL OFFSET 0 ROWS);
--> rows
-->   104
-->   NULL
(SELECT id FROM guest OFFSET -1 ROWS) UNION ALL SELECT 1;
--> fails 2201X
--# case F863 7.17 OFFSET in an operand
SELECT COUNT(*) FROM ((SELECT a FROM pair OFFSET 4 ROWS) UNION ALL (SELECT a FROM pair OFFSET 5 ROWS)) AS t;
--> value 3