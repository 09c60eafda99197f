--# case F262 6.12 CASE with general operands and several conditions
SELECT CASE a + b WHEN 11 THEN 'eleven' WHEN (SELECT 22) THEN 'more' END FROM pair WHERE a < 3 AND b IS NOT NULL ORDER BY a;
--> rows
-->   'eleven'
-->   'more'
SELECT CASE WHEN a IS NULL AND b IS NULL THEN 'both' WHEN a IS NULL THEN 'a' END FROM pair WHERE a IS NULL ORDER BY b;
--> rows
-->   'a'
-->   'both'
SELECT CASE 1 WHEN DATE '2031-01-01' THEN 1 END;
--> fails 42804
--# case F262 6.12 tests of the operand
SELECT a, CASE a WHEN IS NULL THEN 'none' WHEN > 2 THEN 'big' WHEN BETWEEN 1 AND (SELECT 1) THEN 'one' ELSE 'two' END FROM pair WHERE b IS NOT NULL ORDER BY a NULLS FIRST;
--> rows include
-->   NULL | 'none'
-->   1 | 'one'
-->   2 | 'two'
-->   3 | 'big'
SELECT CASE 'hut' WHEN NOT LIKE 'h%' THEN 1 WHEN IN ('bunk', 'hut') THEN 2 END, CASE 5 WHEN <> ALL (VALUES 4, 5) THEN 'x' END, CASE NULL WHEN > 1 THEN 1 ELSE 0 END;
--> rows
-->   2 | NULL | 0
SELECT CASE 1 WHEN > 'x' THEN 1 END;
--> fails 42804
--# case F262 6.12 a WHEN may hold the rest of a predicate
SELECT CASE 5 WHEN < 3 THEN 'low' WHEN BETWEEN 4 AND 6 THEN 'mid' ELSE 'high' END, CASE 'hut' WHEN LIKE 'h%' THEN 1 ELSE 0 END;
--> rows
-->   'mid' | 1