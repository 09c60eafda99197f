--# case T621 6.30 numeric functions and statistics
SELECT SQRT(16), POWER(2, 10), EXP(0), LN(1), FLOOR(-2.5), CEILING(2.1), WIDTH_BUCKET(35, 0, 100, 10);
--> rows
-->   4 | 1024 | 1 | 0 | -3 | 3 | 4
SELECT STDDEV_POP(n), STDDEV_SAMP(n), VAR_POP(n), VAR_SAMP(n) FROM (VALUES (2), (4), (4), (4), (5), (5), (7), (9), (NULL)) AS t (n);
--> rows
-->   2 | 2.138089935299395 | 4 | 4.571428571428571
SELECT COVAR_POP(y, x), CORR(y, x), REGR_SLOPE(y, x), REGR_INTERCEPT(y, x), REGR_COUNT(y, x) FROM (VALUES (1, 1), (3, 2), (5, 3), (NULL, 4)) AS t (y, x);
--> rows
-->   1.3333333333333333 | 1 | 2 | -1 | 3
SELECT PERCENTILE_CONT(0.5) WITHIN GROUP (ORDER BY n), PERCENTILE_DISC(0.5) WITHIN GROUP (ORDER BY n) FROM (VALUES (1), (2), (3), (10)) AS t (n);
--> rows
-->   2.5 | 2
SELECT VAR_SAMP(n) FROM (VALUES (1)) AS t (n);
--> value NULL
SELECT SQRT(-1);
--> fails 2201F
SELECT LN(0);
--> fails 2201E
SELECT WIDTH_BUCKET(1, 5, 5, 3);
--> fails 2201G
SELECT STDDEV_POP(name) FROM hut;
--> fails 42804
--# case T621 6.30 FLOOR and CEILING go down and up, also below nought
SELECT FLOOR(2.5), FLOOR(-2.5), CEILING(2.1), CEIL(-2.1), FLOOR(3), CEILING(-3);
--> rows
-->   2 | -3 | 3 | -2 | 3 | -3
--# case T621 6.30 POWER, SQRT, EXP and LN have their conditions
SELECT POWER(2, 10), POWER(2, -1), SQRT(9), EXP(0), LN(1), POWER(0, 0);
--> rows
-->   1024 | 0.5 | 3 | 1 | 0 | 1
--# case T621 6.30 the root of a negative number
SELECT SQRT(-1);
--> fails 2201F
--# case T621 6.30 the logarithm of nought
SELECT LN(0);
--> fails 2201E
--# case T621 6.30 nought to a negative power
SELECT POWER(0, -1);
--> fails 2201F
--# case T621 6.30 WIDTH_BUCKET counts from below the first to above the last
SELECT WIDTH_BUCKET(5, 0, 10, 5), WIDTH_BUCKET(-1, 0, 10, 5), WIDTH_BUCKET(10, 0, 10, 5), WIDTH_BUCKET(3, 10, 0, 5);
--> rows
-->   3 | 0 | 6 | 4
--# case T621 10.9 variance and deviation of one value
SELECT VAR_POP(x), STDDEV_POP(x), VAR_SAMP(x), STDDEV_SAMP(x) FROM (VALUES (5)) AS t (x);
--> rows
-->   0 | 0 | NULL | NULL
--# case T621 10.9 of several
SELECT VAR_POP(x), STDDEV_POP(x), VAR_SAMP(x) FROM (VALUES (2), (4), (4), (4), (5), (5), (7), (9)) AS t (x);
--> rows
-->   4 | 2 | 4.571428571428571