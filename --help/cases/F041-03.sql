--# case F041-03 7.10 LEFT OUTER JOIN keeps the left rows
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
--# case F041-03 7.10 a condition in ON keeps the left row, in WHERE it does not
SELECT (SELECT COUNT(*) FROM hut h LEFT JOIN stay s ON s.hut = h.code AND s.price > 99), (SELECT COUNT(*) FROM hut h LEFT JOIN stay s ON s.hut = h.code WHERE s.price > 99);
--> rows
-->   4 | 0
--# case F041-03 7.10 a condition on the left table alone keeps its row too
SELECT h.code, s.id FROM hut h LEFT JOIN stay s ON s.hut = h.code AND h.beds > 20 WHERE h.code <> 'KOLM' ORDER BY h.code;
--> rows
-->   'DORN' | NULL
-->   'SELT' | NULL
-->   'VARN' | NULL
--# case F041-03 7.10 a left table without rows gives none
SELECT COUNT(*) FROM (SELECT a FROM pair WHERE FALSE) x LEFT JOIN pair y ON TRUE;
--> value 0
--# case F041-03 7.10 a right table without rows gives NULLs
SELECT COUNT(*), COUNT(y.a) FROM pair x LEFT JOIN (SELECT a FROM pair WHERE FALSE) y ON TRUE;
--> rows
-->   6 | 0