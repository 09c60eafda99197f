--# case T615 6.10 LEAD and LAG
SELECT id, LAG(id) OVER (ORDER BY id), LEAD(id, 2, -1) OVER (ORDER BY id) FROM guest ORDER BY id;
--> rows
-->   101 | NULL | 103
-->   102 | 101 | 104
-->   103 | 102 | -1
-->   104 | 103 | -1
SELECT LAG(a, -1) OVER (ORDER BY a) FROM pair;
--> fails 22016
SELECT LAG(a, 1, 'x') OVER (ORDER BY a) FROM pair;
--> fails 42804
--# case T615 6.10 LAG and LEAD beyond the partition give the default
SELECT x, LAG(x) OVER (ORDER BY x), LEAD(x, 2, -1) OVER (ORDER BY x), LAG(x, 0) OVER (ORDER BY x) FROM (VALUES (1), (2), (3)) AS t (x) ORDER BY x;
--> rows
-->   1 | NULL | 3 | 1
-->   2 | 1 | -1 | 2
-->   3 | 2 | -1 | 3