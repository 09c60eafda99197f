-- E021-11 Character data types: POSITION function
--# case POSITION of one text in another
SELECT POSITION('hut' IN 'Varn hut'), POSITION('' IN 'x'), POSITION('z' IN 'x'), POSITION(NULL IN 'x');
--> rows
-->   6 | 1 | 0 | NULL
SELECT POSITION(1 IN 'x');
--> fails 42884
