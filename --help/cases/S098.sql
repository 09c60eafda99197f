--# case S098 10.9 ARRAY_AGG
SELECT hut, ARRAY_AGG(guest ORDER BY id DESC) FROM stay GROUP BY hut ORDER BY hut;
--> rows
-->   'KOLM' | ARRAY[NULL, 103, 101]
-->   'SELT' | ARRAY[102]
-->   'VARN' | ARRAY[102, 101]
SELECT ARRAY_AGG(a) FROM pair WHERE a > 99;
--> value NULL
SELECT CARDINALITY(ARRAY_AGG(DISTINCT a)) FROM pair;
--> value 4
SELECT ARRAY_AGG(a, b) FROM pair;
--> fails 42884
--# case S098 10.9 ARRAY_AGG keeps NULLs, in its own order
SELECT ARRAY_AGG(x ORDER BY x DESC NULLS LAST) = ARRAY[3, 1, NULL], CARDINALITY(ARRAY_AGG(x)) FROM (VALUES (1), (NULL), (3)) AS t (x);
--> rows
-->   NULL | 3