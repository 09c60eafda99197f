-- E021-02 Character data types: CHARACTER VARYING data type
--# case CHARACTER VARYING keeps what it is given
SELECT CHAR_LENGTH(CAST('ab ' AS CHARACTER VARYING(10))), CAST('abcdef' AS VARCHAR(3)), CAST(NULL AS CHAR VARYING(2));
--> rows
-->   3 | 'abc' | NULL
UPDATE guest SET name = 'a name that has more than thirty characters' WHERE id = 101;
--> fails 22001
UPDATE guest SET name = 'Ilva                                    ' WHERE id = 101;
--> change guest ~1
SELECT CAST('x' AS VARCHAR(0));
--> fails 42601
