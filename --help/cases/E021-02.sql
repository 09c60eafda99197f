--# case E021-02 6.1 CHARACTER VARYING keeps what it is given
SELECT CHAR_LENGTH(CAST('ab ' AS CHARACTER VARYING(10))), CAST('abcdef' AS VARCHAR(3)), CAST(NULL AS CHAR VARYING(2));
--> rows
-->   3 | 'abc' | NULL
UPDATE guest SET name = 'a name that has more than thirty characters' WHERE id = 101;
--> fails 22001
UPDATE guest SET name = 'Ilva                                    ' WHERE id = 101;
--> change guest ~1
SELECT CAST('x' AS VARCHAR(0));
--> fails 42601
--# case E021-02 6.1 VARCHAR keeps blanks at the end, as far as they fit
SELECT CHAR_LENGTH(CAST('a  ' AS VARCHAR(3))), CHAR_LENGTH(CAST('a    ' AS VARCHAR(3)));
--> rows
-->   3 | 3
--# case E021-02 6.1 the empty text is no NULL
SELECT '' IS NULL, CHAR_LENGTH(CAST('' AS VARCHAR(3))), '' = '';
--> rows
-->   FALSE | 0 | TRUE
--# case E021-02 9.2 a parameter that is too short is 22001
CREATE FUNCTION three(t VARCHAR(3)) RETURNS VARCHAR(3) RETURN t;
SELECT three('abc'), three('ab '), three('abc  ');
--> rows
-->   'abc' | 'ab ' | 'abc'
SELECT three('abcd');
--> fails 22001
--# case E021-02 6.13 what CAST cuts is a warning, not an exception
SELECT CAST('abcdef' AS VARCHAR(2));
--> value 'ab'