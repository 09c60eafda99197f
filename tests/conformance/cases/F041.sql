-- F041 Basic joined table
--# case joined tables
SELECT h.code, g.name FROM hut h LEFT JOIN stay s ON s.hut = h.code LEFT JOIN guest g ON g.id = s.guest WHERE h.code IN ('SELT', 'DORN') ORDER BY h.code;
--> rows
-->   'DORN' | NULL
-->   'SELT' | 'Brann'
SELECT 1 FROM hut JOIN stay;
--> fails 42601
