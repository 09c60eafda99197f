--# case E091-04 10.9 MIN
SELECT MIN(a), MIN(name), MIN(night) FROM pair, hut, stay;
--> rows
-->   1 | 'Dorn cabin' | '2031-07-14'
SELECT MIN(height) FROM hut WHERE code = 'DORN';
--> value NULL
SELECT MIN() FROM hut;
--> fails 42884
--# case E091-04 10.9 MIN is the first in the order of the type
SELECT MIN(name), MIN(born), MIN(x) FROM guest, (VALUES (-2.5), (1)) AS t (x);
--> rows
-->   'Brann' | DATE '1985-11-23' | -2.5