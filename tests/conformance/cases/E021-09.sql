-- E021-09 Character data types: TRIM function
--# case TRIM at either end or both
SELECT TRIM('  x '), TRIM(LEADING '0' FROM '007'), TRIM(TRAILING FROM 'x  '), TRIM(BOTH 'a' FROM 'abca');
--> rows
-->   'x' | '7' | 'x' | 'bc'
SELECT TRIM(NULL);
--> value NULL
SELECT TRIM('ab' FROM 'abc');
--> fails 22027
