-- E091-05 Set functions: SUM
--# case SUM, exact and with its range
SELECT SUM(a), SUM(price) FROM pair p, stay s WHERE p.a = s.id;
--> rows
-->   8 | 143.50
SELECT SUM(a) FROM pair WHERE a > 9;
--> value NULL
SELECT SUM(opened) FROM hut;
--> fails 42804
