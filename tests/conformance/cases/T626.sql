-- T626 ANY_VALUE
--# case ANY_VALUE
SELECT hut, ANY_VALUE(price) FROM stay WHERE hut = 'KOLM' GROUP BY hut;
--> rows
-->   'KOLM' | 28.00
SELECT ANY_VALUE(a) IN (1, 2, 3), ANY_VALUE(NULLIF(a, a)) FROM pair;
--> rows
-->   TRUE | NULL
SELECT ANY_VALUE(a, b) FROM pair;
--> fails 42884
