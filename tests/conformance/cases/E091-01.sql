-- E091-01 Set functions: AVG
--# case AVG leaves NULL out
SELECT AVG(b), AVG(price) FROM pair, stay;
--> rows
-->   17.5 | 31.5
SELECT AVG(a) FROM pair WHERE a > 9;
--> value NULL
SELECT AVG(name) FROM hut;
--> fails 42804
