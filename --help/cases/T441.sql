--# case T441 6.30 ABS and MOD
SELECT ABS(-5), ABS(2.5), ABS(NULL), MOD(7, 3), MOD(-7, 3), MOD(7, -3), MOD(NULL, 3);
--> rows
-->   5 | 2.5 | NULL | 1 | -1 | 1 | NULL
SELECT MOD(1, 0);
--> fails 22012
SELECT ABS('x');
--> fails 42884
SELECT ABS(CAST(-2147483648 AS INTEGER));
--> fails 22003
--# case T441 6.30 MOD has the sign of the dividend
SELECT MOD(7, 3), MOD(-7, 3), MOD(7, -3), MOD(7.5, 2), ABS(-2.5), ABS(0);
--> rows
-->   1 | -1 | 1 | 1.5 | 2.5 | 0
--# case T441 6.30 MOD by nought is 22012
SELECT MOD(1, 0);
--> fails 22012