-- E011-05 Numeric data types: Numeric comparison
--# case numbers of all types are compared by value
SELECT a FROM pair WHERE a >= 2 AND b <> 10;
--> rows
-->   2
SELECT 1 = 1.0, 2 < 1.5E0, 3 >= 3, 1 <> NULL;
--> rows
-->   TRUE | FALSE | TRUE | NULL
SELECT 1 < DATE '2031-01-01';
--> fails 42804
