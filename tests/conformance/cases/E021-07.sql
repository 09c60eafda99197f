-- E021-07 Character data types: Character concatenation
--# case concatenation
SELECT 'a' || 'b' || '', name || ' (' || code || ')' FROM hut WHERE code = 'VARN';
--> rows
-->   'ab' | 'Varn hut (VARN)'
SELECT 'a' || NULL;
--> value NULL
SELECT 'a' || 1;
--> fails 42804
