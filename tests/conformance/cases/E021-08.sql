-- E021-08 Character data types: UPPER and LOWER functions
--# case UPPER and LOWER
SELECT UPPER('Varn'), LOWER('VARN'), UPPER(NULL);
--> rows
-->   'VARN' | 'varn' | NULL
SELECT LOWER(1);
--> fails 42884
