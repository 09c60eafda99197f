--# case delimited names, and three routines of one name
SELECT f(5);
--> value 1
SELECT f('c'), f(1, 9);
--> rows
-->   5 | 1
INSERT INTO "Red Hut" VALUES (1, 'z', 7);
--> change "Red Hut" +1
SELECT "Two Words"(1);
--> value 7
CALL "p.q"(1, ?);
--> value "Out" = 2
--> change "Red Hut" (1) "x.y" 7 -> 2
--> at here "My Var" = 1
--> lock row "Red Hut" (1) X
SELECT 1 / f(0);
--> fails 22012
