-- E021-04 Character data types: CHARACTER_LENGTH function
--# case CHARACTER_LENGTH counts characters
SELECT CHARACTER_LENGTH('hütte'), CHAR_LENGTH(''), CHAR_LENGTH(CAST(NULL AS VARCHAR(5)));
--> rows
-->   5 | 0 | NULL
SELECT CHAR_LENGTH(5);
--> fails 42884
