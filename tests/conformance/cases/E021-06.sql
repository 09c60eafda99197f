-- E021-06 Character data types: SUBSTRING function
--# case SUBSTRING counts from one
SELECT SUBSTRING('Kolm hut' FROM 6 FOR 2), SUBSTRING('Kolm' FROM 3), SUBSTRING('Kolm' FROM 0 FOR 2), SUBSTRING('Kolm' FROM 9);
--> rows
-->   'hu' | 'lm' | 'K' | ''
SELECT SUBSTRING('Kolm' FROM NULL);
--> value NULL
SELECT SUBSTRING('Kolm' FROM 2 FOR -1);
--> fails 22011
