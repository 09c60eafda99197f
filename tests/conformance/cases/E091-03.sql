-- E091-03 Set functions: MAX
--# case MAX of any comparable type
SELECT MAX(a), MAX(name), MAX(opened) FROM pair, hut;
--> rows
-->   3 | 'Varn hut' | '1988-09-30'
SELECT MAX(a) FROM pair WHERE a IS NULL;
--> value NULL
SELECT a FROM pair WHERE a = MAX(a);
--> fails 42803
