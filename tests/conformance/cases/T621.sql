-- T621 Enhanced numeric functions
--# case numeric functions and statistics
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
