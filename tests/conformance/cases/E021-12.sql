-- E021-12 Character data types: Character comparison
--# case texts are compared character by character
SELECT 'a' < 'b', 'Z' < 'a', CAST('ab' AS CHAR(5)) = 'ab', 'ab ' = 'ab', NULL = 'a';
--> rows
-->   TRUE | TRUE | TRUE | FALSE | NULL
SELECT name FROM guest WHERE name > 'Ilva' ORDER BY name;
--> rows
-->   'Mirel'
-->   'Tove'
SELECT 'a' < 1;
--> fails 42804
