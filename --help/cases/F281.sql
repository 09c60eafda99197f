--# case F281 8.5 LIKE with patterns that are computed
SELECT name FROM hut WHERE name LIKE SUBSTRING(code FROM 1 FOR 1) || '%';
--> count 4
SELECT UPPER(name) LIKE (SELECT 'V' || '%') FROM hut WHERE code = 'VARN';
--> value TRUE
SELECT name LIKE CAST(NULL AS VARCHAR(5)) FROM hut WHERE code = 'VARN';
--> value NULL
SELECT name LIKE height FROM hut;
--> fails 42804
--# case F281 8.5 the pattern of a row of its own
SELECT COUNT(*) FROM (VALUES ('ab', 'a%'), ('ab', '_'), ('ab', NULL)) AS t (v, p) WHERE v LIKE p;
--> value 1