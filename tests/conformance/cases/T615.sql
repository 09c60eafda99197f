-- T615 LEAD and LAG functions
--# case LEAD and LAG
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
