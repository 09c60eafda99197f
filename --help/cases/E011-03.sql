--# case E011-03 6.1 DECIMAL and NUMERIC are exact
SELECT CAST(1.005 AS DECIMAL(5,2)), CAST(-7 AS NUMERIC(3)), 0.1 + 0.2;
--> rows
-->   1.01 | -7 | 0.3
SELECT CAST(NULL AS NUMERIC(3));
--> value NULL
SELECT CAST(1000 AS DECIMAL(5,2));
--> fails 22003
SELECT CAST(1 AS DECIMAL(50,2));
--> fails 42601
--# case E011-03 6.1 DECIMAL without a scale has none
SELECT CAST(2.5 AS DECIMAL(3)), CAST(-2.5 AS NUMERIC(3)), CAST(2.4 AS DEC(3));
--> rows
-->   3 | -3 | 2
--# case E011-03 6.1 a scale greater than the precision is refused
SELECT CAST(1 AS DECIMAL(2,3));
--> fails 42601
--# case E011-03 6.1 as many digits as precision less scale before the point
SELECT CAST(999.99 AS DECIMAL(5,2)), CAST(-999.99 AS DECIMAL(5,2));
--> rows
-->   999.99 | -999.99
--# case E011-03 9.2 digits behind the scale are rounded, and the result must fit
SELECT CAST(999.995 AS DECIMAL(5,2));
--> fails 22003
--# case E011-03 6.29 a sum has the larger scale, a product the sum of both
SELECT 1.50 + 0.125, 1.50 * 0.25, 2 - 0.10;
--> rows
-->   1.625 | 0.3750 | 1.90
--# case E011-03 6.29 an exact quotient does not lose its value to binary fractions
SELECT 0.3 / 0.1 = 3, 1.1 * 1.1 = 1.21, 0.1 + 0.2 = 0.3;
--> rows
-->   TRUE | TRUE | TRUE
--# case E011-03 5.3 a literal may begin or end with its point
SELECT .5, 5., 0.50, -.25;
--> rows
-->   0.5 | 5 | 0.50 | -0.25