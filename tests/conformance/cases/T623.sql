-- T623 General logarithm functions
--# case logarithms to any base
SELECT LOG(2, 8), LOG(10, 1), LOG(2, NULL);
--> rows
-->   3 | 0 | NULL
SELECT LOG(2, -8);
--> fails 2201E
SELECT LOG(2);
--> fails 42884
