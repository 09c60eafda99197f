--# case E021-06 6.32 SUBSTRING counts from one
SELECT SUBSTRING('Kolm hut' FROM 6 FOR 2), SUBSTRING('Kolm' FROM 3), SUBSTRING('Kolm' FROM 0 FOR 2), SUBSTRING('Kolm' FROM 9);
--> rows
-->   'hu' | 'lm' | 'K' | ''
SELECT SUBSTRING('Kolm' FROM NULL);
--> value NULL
SELECT SUBSTRING('Kolm' FROM 2 FOR -1);
--> fails 22011
--# case E021-06 6.32 SUBSTRING from before the text loses what is not there
SELECT SUBSTRING('abcde' FROM -1 FOR 4), SUBSTRING('abcde' FROM 0 FOR 1), SUBSTRING('abcde' FROM -5);
--> rows
-->   'ab' | '' | 'abcde'
--# case E021-06 6.32 SUBSTRING behind the text, or of no length, is empty
SELECT SUBSTRING('abc' FROM 4), SUBSTRING('abc' FROM 2 FOR 0), SUBSTRING('' FROM 1 FOR 3);
--> rows
-->   '' | '' | ''
--# case E021-06 6.32 SUBSTRING to beyond the end ends there
SELECT SUBSTRING('abc' FROM 2 FOR 99), SUBSTRING('abc' FROM 3 FOR 1);
--> rows
-->   'bc' | 'c'
--# case E021-06 6.32 a NULL anywhere gives NULL
SELECT SUBSTRING(NULL FROM 1), SUBSTRING('abc' FROM 1 FOR NULL), SUBSTRING('abc' FROM NULL FOR 2);
--> rows
-->   NULL | NULL | NULL
--# case E021-06 6.32 a negative length is 22011 even behind the text
SELECT SUBSTRING('abc' FROM 9 FOR -1);
--> fails 22011
--# case E021-06 6.32 places are whole numbers
SELECT SUBSTRING('abc' FROM '1');
--> fails 42884