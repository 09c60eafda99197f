--# case T301 7.13 columns that depend on a grouped key
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
--# case T301 7.13 through unique keys, joins and derived tables
CREATE TABLE d (id INTEGER PRIMARY KEY, name VARCHAR(5), code INTEGER NOT NULL UNIQUE, opt INTEGER UNIQUE);
CREATE TABLE e (id INTEGER PRIMARY KEY, d INTEGER REFERENCES d, pay INTEGER);
INSERT INTO d VALUES (1, 'a', 10, 1), (2, 'b', 20, 2);
INSERT INTO e VALUES (1, 1, 5), (2, 1, 6), (3, 2, 7), (4, NULL, 1);
SELECT d.code, d.name, SUM(e.pay) FROM e, d WHERE e.d = d.id GROUP BY d.code ORDER BY d.code;
--> rows
-->   10 | 'a' | 11
-->   20 | 'b' | 7
SELECT e.id, d.name FROM e LEFT JOIN d ON e.d = d.id GROUP BY e.id ORDER BY e.id;
--> rows
-->   1 | 'a'
-->   2 | 'a'
-->   3 | 'b'
-->   4 | NULL
SELECT x.d, x.n, COUNT(*) FROM (SELECT d, COUNT(*) AS n FROM e GROUP BY d) AS x WHERE x.d IS NOT NULL GROUP BY x.d ORDER BY x.d;
--> rows
-->   1 | 2 | 1
-->   2 | 1 | 1
SELECT e.d, e.pay FROM e WHERE e.pay = 5 GROUP BY e.d;
--> rows
-->   1 | 5
SELECT d.name FROM e LEFT JOIN d ON e.d = d.id AND e.pay > 5 GROUP BY e.d;
--> fails 42803
SELECT name FROM d GROUP BY opt;
--> fails 42803
SELECT name FROM d WHERE id = 9 HAVING COUNT(*) = 0;
--> fails 42803
--# case T301 7.13 columns that depend on a key that is grouped by may stand alone
SELECT h.code, h.name, COUNT(s.id) FROM hut h LEFT JOIN stay s ON s.hut = h.code GROUP BY h.code ORDER BY 1;
--> rows
-->   'DORN' | 'Dorn cabin' | 0
-->   'KOLM' | 'Kolm hut' | 3
-->   'SELT' | 'Selt refuge' | 1
-->   'VARN' | 'Varn hut' | 2