--# case E021-12 8.2 texts are compared character by character
SELECT 'a' < 'b', 'Z' < 'a', CAST('ab' AS CHAR(5)) = 'ab', 'ab ' = 'ab', NULL = 'a';
--> rows
-->   TRUE | TRUE | TRUE | FALSE | NULL
SELECT name FROM guest WHERE name > 'Ilva' ORDER BY name;
--> rows
-->   'Mirel'
-->   'Tove'
SELECT 'a' < 1;
--> fails 42804
--# case E021-12 8.2 a shorter text that is the beginning of the other comes first
SELECT 'a' < 'ab', 'ab' < 'b', '' < 'a', 'B' < 'a';
--> rows
-->   TRUE | TRUE | TRUE | TRUE
--# case E021-12 8.2 a CHAR compares with blanks put at the shorter side
SELECT CAST('a' AS CHAR(5)) = CAST('a' AS CHAR(2)), CAST('a' AS CHAR(3)) = 'a ', CAST('a' AS CHAR(2)) < 'a!';
--> rows
-->   TRUE | TRUE | TRUE
--# case E021-12 8.2 texts and dates do not compare
SELECT 'x' = DATE '2031-01-01';
--> fails 42804