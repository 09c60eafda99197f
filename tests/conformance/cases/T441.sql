-- T441 ABS and MOD functions
--# case ABS and MOD
SELECT ABS(-5), ABS(2.5), ABS(NULL), MOD(7, 3), MOD(-7, 3), MOD(7, -3), MOD(NULL, 3);
--> rows
-->   5 | 2.5 | NULL | 1 | -1 | 1 | NULL
SELECT MOD(1, 0);
--> fails 22012
SELECT ABS('x');
--> fails 42884
SELECT ABS(CAST(-2147483648 AS INTEGER));
--> fails 22003
