--# case E021-04 6.30 CHARACTER_LENGTH counts characters
SELECT CHARACTER_LENGTH('hütte'), CHAR_LENGTH(''), CHAR_LENGTH(CAST(NULL AS VARCHAR(5)));
--> rows
-->   5 | 0 | NULL
SELECT CHAR_LENGTH(5);
--> fails 42884
--# case E021-04 6.30 CHAR_LENGTH counts the blanks of a CHAR
SELECT CHAR_LENGTH(code), CHARACTER_LENGTH(code || ' ') FROM hut WHERE code = 'VARN';
--> rows
-->   4 | 5
--# case E021-04 6.30 characters beyond sixteen bits count once
SELECT CHAR_LENGTH(U&'\+01F3D4'), OCTET_LENGTH(U&'\+01F3D4');
--> rows
-->   1 | 4