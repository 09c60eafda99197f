--# case F861 7.17 OFFSET at the end
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
--# case F861 7.17 OFFSET of all rows, and of none
SELECT COUNT(*) FROM (SELECT a FROM pair OFFSET 0 ROWS) AS t;
--> value 6
--# case F861 7.17 OFFSET before FETCH
SELECT id FROM guest ORDER BY id OFFSET 1 ROW FETCH NEXT 2 ROWS ONLY;
--> rows
-->   102
-->   103