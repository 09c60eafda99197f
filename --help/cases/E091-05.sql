--# case E091-05 10.9 SUM, exact and with its range
SELECT SUM(a), SUM(price) FROM pair p, stay s WHERE p.a = s.id;
--> rows
-->   8 | 143.50
SELECT SUM(a) FROM pair WHERE a > 9;
--> value NULL
SELECT SUM(opened) FROM hut;
--> fails 42804
--# case E091-05 10.9 SUM of integers goes beyond their type
SELECT SUM(x) FROM (VALUES (2147483647), (2147483647)) AS t (x);
--> value 4294967294
--# case E091-05 10.9 SUM keeps the scale
SELECT SUM(price), SUM(x) FROM stay, (VALUES (0.10)) AS t (x);
--> rows
-->   157.50 | 0.60
--# case E091-05 10.9 SUM of BIGINT goes beyond its type too
SELECT SUM(x) FROM (VALUES (CAST(9223372036854775807 AS BIGINT)), (1)) AS t (x);
--> value 9223372036854775808
--# case E091-05 10.9 intervals can be summed and averaged
SELECT SUM(x), AVG(x) FROM (VALUES (INTERVAL '1' DAY), (INTERVAL '3' DAY)) AS t (x);
--> rows
-->   INTERVAL '4' DAY | INTERVAL '2' DAY