-- T301 Functional dependencies
--# case columns that depend on a grouped key
SELECT h.code, h.name, COUNT(s.id) FROM hut h LEFT JOIN stay s ON s.hut = h.code GROUP BY h.code ORDER BY h.code;
--> rows
-->   'DORN' | 'Dorn cabin' | 0
-->   'KOLM' | 'Kolm hut' | 3
-->   'SELT' | 'Selt refuge' | 1
-->   'VARN' | 'Varn hut' | 2
SELECT g.id, g.born FROM guest g GROUP BY g.id HAVING g.born IS NULL;
--> rows
-->   103 | NULL
SELECT h.name, COUNT(*) FROM hut h GROUP BY h.height;
--> fails 42803
