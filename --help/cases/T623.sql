--# case T623 6.30 logarithms to any base
SELECT LOG(2, 8), LOG(10, 1), LOG(2, NULL);
--> rows
-->   3 | 0 | NULL
SELECT LOG(2, -8);
--> fails 2201E
SELECT LOG(2);
--> fails 42884
--# case T623 6.30 LOG has its base first
SELECT LOG(2, 8), LOG(10, 1000) > 2.99, LOG(3, 1);
--> rows
-->   3 | TRUE | 0