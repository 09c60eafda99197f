--# case E011-02 6.1 REAL, DOUBLE PRECISION and FLOAT
SELECT CAST('1.5e2' AS DOUBLE PRECISION), CAST(0.25 AS REAL), CAST(3 AS FLOAT(20)), 1E-1;
--> rows
-->   150 | 0.25 | 3 | 0.1
SELECT CAST(NULL AS REAL) * 2;
--> value NULL
SELECT 1E308 * 10;
--> fails 22003
SELECT CAST('x' AS DOUBLE PRECISION);
--> fails 22018
--# case E011-02 5.3 a literal with an exponent is approximate
SELECT 1E0 / 3 > 0.333333, 5E-1 = 0.5, 1.E2, .5E1;
--> rows
-->   TRUE | TRUE | 100 | 5
--# case E011-02 6.29 an operation with one approximate operand is approximate
SELECT 1 / 2E0, 3 * 0.5E0, 7 - 0.5E0;
--> rows
-->   0.5 | 1.5 | 6.5
--# case E011-02 6.29 division by an approximate nought is 22012
SELECT 1E0 / 0E0;
--> fails 22012
--# case E011-02 6.13 to a number of the other kind
SELECT CAST(2.5E0 AS INTEGER), CAST(-2.5E0 AS INTEGER), CAST(1E10 AS DECIMAL(11));
--> rows
-->   3 | -3 | 10000000000
--# case E011-02 6.13 an approximate number beyond an integer is 22003
SELECT CAST(1E10 AS INTEGER);
--> fails 22003
--# case E011-02 6.1 REAL has fewer digits than DOUBLE PRECISION
SELECT CAST(0.1 AS REAL) = CAST(0.1 AS DOUBLE PRECISION), CAST(16777217 AS REAL) = 16777216;
--> rows
-->   FALSE | TRUE
--# case E011-02 6.1 FLOAT takes a precision, which is not nought
SELECT CAST(1 AS FLOAT(0));
--> fails 42601