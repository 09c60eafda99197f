-- E011-04 Numeric data types: Arithmetic operators
--# case plus, minus, times, divided by, and signs
SELECT 7 + 2, 7 - 9, 7 * -2, 7 / 2, -7 / 2, +5, -(-3);
--> rows
-->   9 | -2 | -14 | 3 | -3 | 5 | 3
SELECT 10.00 / 3;
--> value 3.333333
SELECT NULL + 1;
--> value NULL
SELECT 1 / 0;
--> fails 22012
SELECT DATE '2031-01-01' * 2;
--> fails 42804
