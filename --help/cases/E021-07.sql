--# case E021-07 6.31 concatenation
SELECT 'a' || 'b' || '', name || ' (' || code || ')' FROM hut WHERE code = 'VARN';
--> rows
-->   'ab' | 'Varn hut (VARN)'
SELECT 'a' || NULL;
--> value NULL
SELECT 'a' || 1;
--> fails 42804
--# case E021-07 6.31 concatenation is associative, and blanks stay
SELECT ('a ' || 'b') || 'c' = 'a ' || ('b' || 'c'), CHAR_LENGTH('a ' || ' b');
--> rows
-->   TRUE | 4
--# case E021-07 6.31 NULL on either side gives NULL, the empty text does not
SELECT NULL || 'a', 'a' || NULL, '' || 'a', '' || '';
--> rows
-->   NULL | NULL | 'a' | ''
--# case E021-07 6.31 numbers are not made texts
SELECT 1 || 'a';
--> fails 42804