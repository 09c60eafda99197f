--# case E011-04 6.29 plus, minus, times, divided by, and signs
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
--# case E011-04 6.29 times and divided by come before plus and minus
SELECT 2 + 3 * 4, (2 + 3) * 4, 20 - 6 / 2, 2 * -3 + 1;
--> rows
-->   14 | 20 | 17 | -5
--# case E011-04 6.29 equal ranks go from left to right
SELECT 10 - 4 - 3, 100 / 10 / 2, 7 - 2 + 1, 2 * 9 / 4;
--> rows
-->   3 | 5 | 6 | 4
--# case E011-04 6.29 a sign binds to its operand, and two minus signs need a blank
SELECT - -2, -(2 + 3), +4 * -1;
--> rows
-->   2 | -5 | -4
--# case E011-04 6.29 NULL on either side gives NULL
SELECT a + b, a - b, a * b, a / b FROM pair WHERE a = 2 AND b IS NULL;
--> rows
-->   NULL | NULL | NULL | NULL
--# case E011-04 6.29 NULL divided by nought is NULL
SELECT NULL / 0, CAST(NULL AS INTEGER) / 0;
--> rows
-->   NULL | NULL
--# case E011-04 6.29 division by nought is 22012, in every numeric type
SELECT 1.0 / 0.0;
--> fails 22012
--# case E011-04 6.29 integer division cuts toward nought
SELECT 7 / 2, -7 / 2, 7 / -2, -7 / -2, 1 / 3;
--> rows
-->   3 | -3 | -3 | 3 | 0
--# case E011-04 6.29 a text is no operand
SELECT '1' + 1;
--> fails 42804
--# case E011-04 6.29 a truth value is no operand
SELECT TRUE + 1;
--> fails 42804
--# case E011-04 6.29 what is compared, or an item of COALESCE, fits the type of its expression
SELECT COALESCE(2147483647 + 1, CAST(0 AS BIGINT));
--> fails 22003
SELECT 2147483647 + 1 > CAST(0 AS BIGINT);
--> fails 22003
SELECT CASE WHEN a = 1 THEN a + 2147483647 ELSE CAST(0 AS BIGINT) END FROM pair WHERE a = 1;
--> fails 22003
--# case E011-04 6.29 a NULL beside it does not keep a division by nought from being told
SELECT 1 / 0 + b FROM pair WHERE a = 2 AND b IS NULL;
--> fails 22012
SELECT 1 / 0 < b FROM pair WHERE a = 2 AND b IS NULL;
--> fails 22012
SELECT COUNT(*) FROM hut WHERE beds / (beds - beds) > height;
--> fails 22012