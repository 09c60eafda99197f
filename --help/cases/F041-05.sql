--# case F041-05 7.10 outer joins nested
SELECT h.code, g.name FROM hut h LEFT JOIN (stay s LEFT JOIN guest g ON g.id = s.guest) ON s.hut = h.code WHERE h.code <> 'VARN' ORDER BY h.code, s.id;
--> rows
-->   'DORN' | NULL
-->   'KOLM' | 'Ilva'
-->   'KOLM' | 'Mirel'
-->   'KOLM' | NULL
-->   'SELT' | 'Brann'
SELECT 1 FROM hut h LEFT JOIN (stay s LEFT JOIN guest g ON g.id = h.beds) ON s.hut = h.code;
--> fails 42703
SELECT 1 FROM hut h LEFT JOIN (stay s LEFT JOIN guest g ON g.id = x.beds) ON s.hut = h.code;
--> fails 42703
--# case F041-05 7.10 outer joins one behind the other keep what was kept
SELECT h.code, g.name FROM hut h LEFT JOIN stay s ON s.hut = h.code AND s.id = 1 LEFT JOIN guest g ON g.id = s.guest ORDER BY h.code;
--> rows
-->   'DORN' | NULL
-->   'KOLM' | NULL
-->   'SELT' | NULL
-->   'VARN' | 'Ilva'