--# case E021-09 6.32 TRIM at either end or both
SELECT TRIM('  x '), TRIM(LEADING '0' FROM '007'), TRIM(TRAILING FROM 'x  '), TRIM(BOTH 'a' FROM 'abca');
--> rows
-->   'x' | '7' | 'x' | 'bc'
SELECT TRIM(NULL);
--> value NULL
SELECT TRIM('ab' FROM 'abc');
--> fails 22027
--# case E021-09 6.32 TRIM takes blanks at both ends where nothing is said
SELECT '[' || TRIM('  a b  ') || ']', '[' || TRIM(LEADING FROM '  a ') || ']', '[' || TRIM(BOTH FROM ' a ') || ']';
--> rows
-->   '[a b]' | '[a ]' | '[a]'
--# case E021-09 6.32 TRIM takes one character, as often as it stands there
SELECT TRIM(TRAILING 'x' FROM 'axxx'), TRIM('a' FROM 'aaa'), TRIM(BOTH '' FROM 'a');
--> fails 22027
--# case E021-09 6.32 TRIM of NULL, or with NULL, is NULL
SELECT TRIM(NULL FROM 'a'), TRIM(LEADING 'x' FROM NULL), TRIM('x' FROM '');
--> rows
-->   NULL | NULL | ''