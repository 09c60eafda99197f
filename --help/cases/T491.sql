--# case T491 7.6 LATERAL derived tables
SELECT h.code, l.price FROM hut h, LATERAL (SELECT s.price FROM stay s WHERE s.hut = h.code ORDER BY s.price DESC NULLS LAST FETCH FIRST 1 ROW ONLY) l ORDER BY h.code;
--> rows
-->   'KOLM' | 28.00
-->   'SELT' | NULL
-->   'VARN' | 42.00
SELECT h.code, l.n FROM hut h LEFT JOIN LATERAL (SELECT 1 AS n FROM stay s WHERE s.hut = h.code AND s.price > 40) l ON TRUE ORDER BY h.code;
--> rows
-->   'DORN' | NULL
-->   'KOLM' | NULL
-->   'SELT' | NULL
-->   'VARN' | 1
SELECT 1 FROM hut h, (SELECT h.code AS c) l;
--> fails 42703
--# case T491 7.6 LATERAL sees the tables before it, and none behind
SELECT h.code, d.n FROM hut h, LATERAL (SELECT COUNT(*) AS n FROM stay s WHERE s.hut = h.code) AS d WHERE d.n > 2;
--> rows
-->   'KOLM' | 3
--# case T491 7.6 LEFT JOIN LATERAL keeps a row without any
SELECT COUNT(*), COUNT(d.id) FROM hut h LEFT JOIN LATERAL (SELECT id FROM stay s WHERE s.hut = h.code AND price > 30) AS d ON TRUE;
--> rows
-->   5 | 2