--# case E091-03 10.9 MAX of any comparable type
SELECT MAX(a), MAX(name), MAX(opened) FROM pair, hut;
--> rows
-->   3 | 'Varn hut' | '1988-09-30'
SELECT MAX(a) FROM pair WHERE a IS NULL;
--> value NULL
SELECT a FROM pair WHERE a = MAX(a);
--> fails 42803
--# case E091-03 10.9 MAX of texts, dates and truth values
SELECT MAX(name), MAX(born), MAX(member) FROM guest;
--> rows
-->   'Tove' | DATE '2001-01-15' | TRUE