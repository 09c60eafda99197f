-- T351 Bracketed SQL comments (/*...*/ comments)
--# case bracketed comments nest
SELECT /* one /* two */ still */ 1 + /**/ 2;
--> value 3
SELECT '/* no comment */', /* NULL */ NULL;
--> rows
-->   '/* no comment */' | NULL
SELECT 1 /* never closed;
--> fails 42601
