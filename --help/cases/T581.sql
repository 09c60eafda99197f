--# case T581 6.32 SUBSTRING with a regular expression
SELECT SUBSTRING('Varn hut 1840 m' SIMILAR '%#"[0-9]+#"[^0-9]%' ESCAPE '#');
--> value '1840'
SELECT SUBSTRING('nothing here' SIMILAR '%#"[0-9]+#"%' ESCAPE '#'), SUBSTRING(NULL SIMILAR '#"%#"' ESCAPE '#');
--> rows
-->   NULL | NULL
SELECT SUBSTRING('abc' SIMILAR 'abc' ESCAPE '#');
--> fails 2200C
SELECT SUBSTRING('abc' SIMILAR 'a#"b#"c' ESCAPE '##');
--> fails 22019
--# case T581 6.32 a SIMILAR pattern in three parts cuts out the middle
SELECT SUBSTRING('hut 42 north' SIMILAR '%#"[0-9]+#"%' ESCAPE '#'), SUBSTRING('abc' SIMILAR 'x#"b#"c' ESCAPE '#'), SUBSTRING(CAST(NULL AS VARCHAR(3)) SIMILAR 'a#"b#"c' ESCAPE '#');
--> rows
-->   '42' | NULL | NULL