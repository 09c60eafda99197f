--# case T312 6.32 OVERLAY
SELECT OVERLAY('Varn hut' PLACING 'Kolm' FROM 1), OVERLAY('abcdef' PLACING 'X' FROM 2 FOR 3), OVERLAY('abc' PLACING '' FROM 2 FOR 1), OVERLAY('abc' PLACING 'Z' FROM 4 FOR 0);
--> rows
-->   'Kolm hut' | 'aXef' | 'ac' | 'abcZ'
SELECT OVERLAY(NULL PLACING 'x' FROM 1);
--> value NULL
SELECT OVERLAY('abc' PLACING 1 FROM 1);
--> fails 42884
--# case T312 6.32 OVERLAY replaces as many characters as it has, or as are told
SELECT OVERLAY('abcdef' PLACING 'xy' FROM 3), OVERLAY('abcdef' PLACING 'x' FROM 2 FOR 3), OVERLAY('abc' PLACING 'z' FROM 4), OVERLAY('abc' PLACING '' FROM 2 FOR 1);
--> rows
-->   'abxyef' | 'axef' | 'abcz' | 'ac'