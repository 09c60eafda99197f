--# case E011-05 8.2 numbers of all types are compared by value
SELECT a FROM pair WHERE a >= 2 AND b <> 10;
--> value 2
SELECT 1 = 1.0, 2 < 1.5E0, 3 >= 3, 1 <> NULL;
--> rows
-->   TRUE | FALSE | TRUE | NULL
SELECT 1 < DATE '2031-01-01';
--> fails 42804
--# case E011-05 8.2 exact and approximate numbers compare by value
SELECT 1.0 = 1, 1E0 = 1, 0.1 = 1E-1, 2.50 = 2.5, -0.0 = 0;
--> rows
-->   TRUE | TRUE | TRUE | TRUE | TRUE
--# case E011-05 8.2 the six operators
SELECT 1 < 2, 2 <= 2, 3 > 4, 4 >= 5, 5 <> 5, 6 = 6;
--> rows
-->   TRUE | TRUE | FALSE | FALSE | FALSE | TRUE
--# case E011-05 8.2 great numbers differ in their last digit
SELECT 9007199254740993 = 9007199254740992, 12345678901234567890.1 > 12345678901234567890.0;
--> rows
-->   FALSE | TRUE
--# case E011-05 8.2 numbers and texts do not compare
SELECT COUNT(*) FROM hut WHERE beds = '12';
--> fails 42804