--# case T626 10.9 ANY_VALUE
SELECT hut, ANY_VALUE(price) FROM stay WHERE hut = 'KOLM' GROUP BY hut;
--> rows
-->   'KOLM' | 28.00
SELECT ANY_VALUE(a) IN (1, 2, 3), ANY_VALUE(NULLIF(a, a)) FROM pair;
--> rows
-->   TRUE | NULL
SELECT ANY_VALUE(a, b) FROM pair;
--> fails 42884
--# case T626 10.9 ANY_VALUE is one that there is, NULL where there is none
SELECT ANY_VALUE(x), (SELECT ANY_VALUE(a) FROM pair WHERE a IS NULL) FROM (VALUES (NULL), (7), (7)) AS t (x);
--> rows
-->   7 | NULL