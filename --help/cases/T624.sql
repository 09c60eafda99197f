--# case T624 6.30 logarithms to the base of ten
SELECT LOG10(1000) BETWEEN 2.999999 AND 3.000001, LOG10(1), LOG10(NULL);
--> rows
-->   TRUE | 0 | NULL
SELECT LOG10(0);
--> fails 2201E
--# case T624 6.30 LOG10 of ten's powers
SELECT LOG10(1000), LOG10(1), LOG10(0.01);
--> rows
-->   3 | 0 | -2