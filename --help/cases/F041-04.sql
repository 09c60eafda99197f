--# case F041-04 7.10 RIGHT OUTER JOIN keeps the right rows
SELECT g.name, s.id FROM stay s RIGHT OUTER JOIN guest g ON g.id = s.guest AND s.hut = 'KOLM' ORDER BY g.id;
--> rows
-->   'Ilva' | 3
-->   'Brann' | NULL
-->   'Mirel' | 4
-->   'Tove' | NULL
SELECT COUNT(*) FROM pair p RIGHT JOIN pair q ON FALSE;
--> value 6
SELECT 1 FROM stay RIGHT JOIN guest ON id = guest;
--> fails 42702
--# case F041-04 7.10 RIGHT is LEFT the other way round
SELECT COUNT(*) FROM (SELECT s.id, h.code FROM stay s RIGHT JOIN hut h ON s.hut = h.code EXCEPT SELECT s.id, h.code FROM hut h LEFT JOIN stay s ON s.hut = h.code) t;
--> value 0