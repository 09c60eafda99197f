-- F857 Top-level <fetch first clause> in <query expression>
--# case FETCH FIRST at the end
SELECT a FROM pair ORDER BY a NULLS LAST FETCH FIRST 2 ROWS ONLY;
--> rows
-->   1
-->   2
SELECT a FROM pair ORDER BY a NULLS LAST FETCH NEXT ROW ONLY;
--> value 1
SELECT a FROM pair FETCH FIRST 0 ROWS ONLY;
--> fails 2201W
SELECT a FROM pair FETCH FIRST NULL ROWS ONLY;
--> fails 22004
SELECT a FROM pair FETCH FIRST 'x' ROWS ONLY;
--> fails 42804
