-- T581 Regular expression substring function
--# case SUBSTRING with a regular expression
SELECT SUBSTRING('Varn hut 1840 m' SIMILAR '%#"[0-9]+#"[^0-9]%' ESCAPE '#');
--> value '1840'
SELECT SUBSTRING('nothing here' SIMILAR '%#"[0-9]+#"%' ESCAPE '#'), SUBSTRING(NULL SIMILAR '#"%#"' ESCAPE '#');
--> rows
-->   NULL | NULL
SELECT SUBSTRING('abc' SIMILAR 'abc' ESCAPE '#');
--> fails 2200C
SELECT SUBSTRING('abc' SIMILAR 'a#"b#"c' ESCAPE '##');
--> fails 22019
