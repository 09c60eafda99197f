--# case T625 10.9 LISTAGG
SELECT LISTAGG(name, ', ') WITHIN GROUP (ORDER BY name DESC) FROM guest;
--> value 'Tove, Mirel, Ilva, Brann'
SELECT hut, LISTAGG(CAST(guest AS VARCHAR(5)), '+') WITHIN GROUP (ORDER BY id) FROM stay GROUP BY hut ORDER BY hut;
--> rows
-->   'KOLM' | '101+103'
-->   'SELT' | '102'
-->   'VARN' | '101+102'
SELECT LISTAGG(name, ',') WITHIN GROUP (ORDER BY name) FROM guest WHERE id > 999;
--> value NULL
SELECT CHAR_LENGTH(LISTAGG(REPEAT('x', 900), ',' ON OVERFLOW TRUNCATE '...' WITH COUNT) WITHIN GROUP (ORDER BY a)) < 4000 FROM pair;
--> value TRUE
SELECT LISTAGG(REPEAT('x', 900), ',') WITHIN GROUP (ORDER BY a) FROM pair;
--> fails 22001
SELECT LISTAGG(name, ',') FROM guest;
--> fails 42601
--# case T625 10.9 LISTAGG in its own order, without the NULLs
SELECT LISTAGG(x, '-') WITHIN GROUP (ORDER BY x DESC), LISTAGG(DISTINCT x, ',') WITHIN GROUP (ORDER BY x), LISTAGG(x) WITHIN GROUP (ORDER BY x) FROM (VALUES ('b'), ('a'), (NULL), ('a')) AS t (x);
--> rows
-->   'b-a-a' | 'a,b' | 'aab'
--# case T625 10.9 LISTAGG of no values is NULL
SELECT LISTAGG(name, ',') WITHIN GROUP (ORDER BY name) FROM guest WHERE id > 999;
--> value NULL