--# case T351 5.2 bracketed comments stand anywhere, and hold others
SELECT /* one /* two */ three */ 1 /**/ + /* -- */ 2;
--> value 3
--# case T351 5.3 bracketed comments nest
SELECT /* one /* two */ still */ 1 + /**/ 2;
--> value 3
SELECT '/* no comment */', /* NULL */ NULL;
--> rows
-->   '/* no comment */' | NULL
SELECT 1 /* never closed;
--> fails 42601