--# case F041-07 7.10 the inner table of an outer join in an inner join
SELECT h.code, s.id, g.name FROM hut h LEFT JOIN stay s ON s.hut = h.code JOIN guest g ON g.id = s.guest WHERE h.code = 'KOLM' ORDER BY s.id;
--> rows
-->   'KOLM' | 3 | 'Ilva'
-->   'KOLM' | 4 | 'Mirel'
SELECT COUNT(*) FROM hut h LEFT JOIN stay s ON s.hut = h.code JOIN guest g ON g.id = s.guest;
--> value 5
SELECT 1 FROM hut h LEFT JOIN stay s ON s.hut = h.code JOIN guest g ON g.id = nothing;
--> fails 42703
--# case F041-07 7.10 an inner join behind an outer one drops the rows of NULLs
SELECT COUNT(*) FROM hut h LEFT JOIN stay s ON s.hut = h.code JOIN guest g ON g.id = s.guest;
--> value 5