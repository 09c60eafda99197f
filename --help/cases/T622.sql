--# case T622 6.30 trigonometric functions
SELECT SIN(0), COS(0), TAN(0), ASIN(1) = ACOS(0), ATAN(0), SINH(0), COSH(0), TANH(0), SIN(NULL);
--> rows
-->   0 | 1 | 0 | TRUE | 0 | 0 | 1 | 0 | NULL
SELECT ACOS(2);
--> fails 22003
SELECT SIN('x');
--> fails 42884
--# case T622 6.30 arcs and angles, and their conditions
SELECT SIN(0), COS(0), TAN(0), ASIN(1) > 1.57, ACOS(1), ATAN(0), SINH(0), COSH(0), TANH(0);
--> rows
-->   0 | 1 | 0 | TRUE | 0 | 0 | 0 | 1 | 0