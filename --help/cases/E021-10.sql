--# case E021-10 9.2 character types are cast to each other where they are assigned
UPDATE hut SET code = 'AB' WHERE code = 'DORN';
--> change hut ~1
SELECT CHAR_LENGTH(code), code || '.' FROM hut WHERE name = 'Dorn cabin';
--> rows
-->   4 | 'AB  .'
UPDATE guest SET name = (SELECT code FROM hut WHERE name = 'Dorn cabin') WHERE id = 104;
--> change guest (104) name 'Tove' -> 'AB  '
UPDATE hut SET code = 5 WHERE code = 'AB';
--> fails 42804
--# case E021-10 9.2 CHAR and VARCHAR are assigned to one another
UPDATE hut SET name = code WHERE code = 'KOLM';
--> change hut ('KOLM') name 'Kolm hut' -> 'KOLM'
--# case E021-10 9.5 the longest of several texts gives the length
SELECT CHAR_LENGTH(CASE WHEN 1 = 1 THEN 'a' ELSE 'abc' END), CHAR_LENGTH(COALESCE(CAST('a' AS CHAR(2)), 'abcd'));
--> rows
-->   1 | 2