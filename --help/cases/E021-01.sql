--# case E021-01 6.1 CHARACTER is padded with blanks
SELECT CHAR_LENGTH(CAST('ab' AS CHARACTER(4))), CAST('ab' AS CHAR(4)) || '|', CAST('x' AS CHAR);
--> rows
-->   4 | 'ab  |' | 'x'
SELECT code FROM hut WHERE code = 'VARN  ';
--> value 'VARN'
SELECT CAST(NULL AS CHAR(4));
--> value NULL
INSERT INTO hut VALUES ('TOOLONG', 'x', 1, 1, NULL);
--> fails 22001
--# case E021-01 6.1 CHARACTER alone is of length one
SELECT CHAR_LENGTH(CAST('abc' AS CHARACTER)), CAST('abc' AS CHAR);
--> rows
-->   1 | 'a'
--# case E021-01 6.13 CAST pads with blanks, or cuts
SELECT CAST('ab' AS CHAR(3)) || '|', CAST('abcd' AS CHAR(3)) || '|';
--> rows
-->   'ab |' | 'abc|'
--# case E021-01 9.2 assignment pads, and refuses what is cut
UPDATE hut SET code = 'ABCDE' WHERE code = 'DORN';
--> fails 22001
--# case E021-01 9.2 assignment cuts blanks at the end without a condition
UPDATE hut SET code = 'ABCD   ' WHERE code = 'DORN';
--> change hut ~1
--# case E021-01 6.1 a length of nought is refused
SELECT CAST('' AS CHAR(0));
--> fails 42601
--# case E021-01 6.1 the empty text in a CHAR is blanks
SELECT CHAR_LENGTH(CAST('' AS CHAR(2))), CAST('' AS CHAR(2)) = '';
--> rows
-->   2 | TRUE
--# case E021-01 6.31 concatenation keeps the blanks of a CHAR
SELECT CAST('a' AS CHAR(2)) || CAST('b' AS CHAR(2)) || '.';
--> value 'a b .'