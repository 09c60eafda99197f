-- F856 Nested <fetch first clause> in <query expression>
--# case FETCH FIRST in the operands of table operators
(SELECT a FROM pair FETCH FIRST 2 ROWS ONLY) UNION ALL (SELECT NULL OFFSET 1 ROW);
--> count 2
(SELECT a FROM pair FETCH FIRST -1 ROWS ONLY) UNION ALL SELECT 1;
--> fails 2201W
(SELECT a FROM pair FETCH FIRST NULL ROWS ONLY) UNION ALL SELECT 1;
--> fails 22004
