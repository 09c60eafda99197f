-- E021-01 Character data types: CHARACTER data type
--# case CHARACTER is padded with blanks
SELECT CHAR_LENGTH(CAST('ab' AS CHARACTER(4))), CAST('ab' AS CHAR(4)) || '|', CAST('x' AS CHAR);
--> rows
-->   4 | 'ab  |' | 'x'
SELECT code FROM hut WHERE code = 'VARN  ';
--> value 'VARN'
SELECT CAST(NULL AS CHAR(4));
--> value NULL
INSERT INTO hut VALUES ('TOOLONG', 'x', 1, 1, NULL);
--> fails 22001
