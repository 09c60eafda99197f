--# case E021-11 6.30 POSITION of one text in another
SELECT POSITION('hut' IN 'Varn hut'), POSITION('' IN 'x'), POSITION('z' IN 'x'), POSITION(NULL IN 'x');
--> rows
-->   6 | 1 | 0 | NULL
SELECT POSITION(1 IN 'x');
--> fails 42884
--# case E021-11 6.30 POSITION of the first place, and of the empty text
SELECT POSITION('a' IN 'banana'), POSITION('' IN ''), POSITION('ana' IN 'banana'), POSITION('x' IN '');
--> rows
-->   2 | 1 | 2 | 0
--# case E021-11 6.30 POSITION distinguishes case
SELECT POSITION('B' IN 'abc'), POSITION('abcd' IN 'abc');
--> rows
-->   0 | 0