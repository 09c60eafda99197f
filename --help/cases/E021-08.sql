--# case E021-08 6.32 UPPER and LOWER
SELECT UPPER('Varn'), LOWER('VARN'), UPPER(NULL);
--> rows
-->   'VARN' | 'varn' | NULL
SELECT LOWER(1);
--> fails 42884
--# case E021-08 6.32 UPPER and LOWER leave what has no other case
SELECT UPPER('ab1 ü'), LOWER('AB1 Ü'), UPPER('');
--> rows
-->   'AB1 Ü' | 'ab1 ü' | ''