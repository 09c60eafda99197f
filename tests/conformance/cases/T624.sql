-- T624 Common logarithm functions
--# case logarithms to the base of ten
SELECT LOG10(1000) BETWEEN 2.999999 AND 3.000001, LOG10(1), LOG10(NULL);
--> rows
-->   TRUE | 0 | NULL
SELECT LOG10(0);
--> fails 2201E
