--# case E061-04 8.5 LIKE with percent and underscore
SELECT name FROM hut WHERE name LIKE '_o%hut';
--> value 'Kolm hut'
SELECT 'a' LIKE '', '' LIKE '%', 'ab' NOT LIKE 'a_', NULL LIKE '%';
--> rows
-->   FALSE | TRUE | FALSE | NULL
SELECT 5 LIKE '5';
--> fails 42804
--# case E061-04 8.5 an underscore is one character, a percent sign any number
SELECT 'abc' LIKE 'a_c', 'ac' LIKE 'a_c', 'ac' LIKE 'a%c', 'abbc' LIKE 'a%c', 'abc' LIKE '%', '' LIKE '_';
--> rows
-->   TRUE | FALSE | TRUE | TRUE | TRUE | FALSE
--# case E061-04 8.5 the pattern is for the whole text
SELECT 'abc' LIKE 'b', 'abc' LIKE '%b', 'abc' LIKE '%b%', 'abc' NOT LIKE 'abc';
--> rows
-->   FALSE | FALSE | TRUE | FALSE
--# case E061-04 8.5 blanks at the end count
SELECT 'a ' LIKE 'a', 'a' LIKE 'a ', CAST('a' AS CHAR(2)) LIKE 'a', CAST('a' AS CHAR(2)) LIKE 'a ';
--> rows
-->   FALSE | FALSE | FALSE | TRUE
--# case E061-04 8.5 NULL on either side is unknown
SELECT NULL LIKE '%', 'a' LIKE NULL, 'a' NOT LIKE NULL;
--> rows
-->   NULL | NULL | NULL
--# case E061-04 8.5 case counts, and line ends are characters
SELECT 'A' LIKE 'a', U&'a\000Ab' LIKE 'a_b', U&'a\000Ab' LIKE '%b';
--> rows
-->   FALSE | TRUE | TRUE