-- F861 Top-level <result offset clause> in <query expression>
--# case OFFSET at the end
SELECT id FROM guest ORDER BY id OFFSET 2 ROWS;
--> rows
-->   103
-->   104
SELECT a FROM pair ORDER BY a NULLS LAST OFFSET 5 ROWS FETCH NEXT 3 ROWS ONLY;
--> value NULL
SELECT id FROM guest OFFSET 99 ROWS;
--> no rows
SELECT id FROM guest OFFSET -1 ROWS;
--> fails 2201X
