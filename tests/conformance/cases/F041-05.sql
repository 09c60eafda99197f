-- F041-05 Basic joined table: Outer joins can be nested
--# case outer joins nested
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
