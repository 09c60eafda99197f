-- F041-03 Basic joined table: LEFT OUTER JOIN
--# case LEFT OUTER JOIN keeps the left rows
SELECT h.code, s.id FROM hut h LEFT OUTER JOIN stay s ON s.hut = h.code AND s.price > 30 ORDER BY h.code, s.id;
--> rows
-->   'DORN' | NULL
-->   'KOLM' | NULL
-->   'SELT' | NULL
-->   'VARN' | 1
-->   'VARN' | 2
SELECT COUNT(*) FROM pair p LEFT JOIN pair q ON q.a = p.a WHERE p.a IS NULL;
--> value 2
SELECT 1 FROM hut h LEFT JOIN stay s ON h.code = s.guest;
--> fails 42804
