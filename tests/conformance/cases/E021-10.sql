-- E021-10 Character data types: Implicit casting among the character string types
--# case character types are cast to each other where they are assigned
UPDATE hut SET code = 'AB' WHERE code = 'DORN';
--> change hut ~1
SELECT CHAR_LENGTH(code), code || '.' FROM hut WHERE name = 'Dorn cabin';
--> rows
-->   4 | 'AB  .'
UPDATE guest SET name = (SELECT code FROM hut WHERE name = 'Dorn cabin') WHERE id = 104;
--> change guest (104) name 'Tove' -> 'AB  '
UPDATE hut SET code = 5 WHERE code = 'AB';
--> fails 42804
