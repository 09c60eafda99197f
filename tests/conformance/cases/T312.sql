-- T312 OVERLAY function
--# case OVERLAY
SELECT OVERLAY('Varn hut' PLACING 'Kolm' FROM 1), OVERLAY('abcdef' PLACING 'X' FROM 2 FOR 3), OVERLAY('abc' PLACING '' FROM 2 FOR 1), OVERLAY('abc' PLACING 'Z' FROM 4 FOR 0);
--> rows
-->   'Kolm hut' | 'aXef' | 'ac' | 'abcZ'
SELECT OVERLAY(NULL PLACING 'x' FROM 1);
--> value NULL
SELECT OVERLAY('abc' PLACING 1 FROM 1);
--> fails 42884
