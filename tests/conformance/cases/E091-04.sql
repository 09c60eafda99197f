-- E091-04 Set functions: MIN
--# case MIN
SELECT MIN(a), MIN(name), MIN(night) FROM pair, hut, stay;
--> rows
-->   1 | 'Dorn cabin' | '2031-07-14'
SELECT MIN(height) FROM hut WHERE code = 'DORN';
--> value NULL
SELECT MIN() FROM hut;
--> fails 42884
