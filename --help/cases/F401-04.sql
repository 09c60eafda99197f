--# case F401-04 7.10 CROSS JOIN
SELECT COUNT(*) FROM pair CROSS JOIN hut;
--> value 24
SELECT COUNT(*) FROM pair CROSS JOIN (SELECT 1 AS x FROM pair WHERE a > 9) e;
--> value 0
SELECT 1 FROM pair CROSS JOIN hut ON TRUE;
--> fails 42601
--# case F401-04 7.10 CROSS JOIN with nothing is nothing
SELECT COUNT(*) FROM pair CROSS JOIN (SELECT 1 FROM pair WHERE FALSE) AS t (x);
--> value 0