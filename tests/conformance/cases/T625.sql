-- T625 LISTAGG
--# case LISTAGG
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
