-- F281 LIKE enhancements
--# case LIKE with patterns that are computed
SELECT name FROM hut WHERE name LIKE SUBSTRING(code FROM 1 FOR 1) || '%';
--> count 4
SELECT UPPER(name) LIKE (SELECT 'V' || '%') FROM hut WHERE code = 'VARN';
--> value TRUE
SELECT name LIKE CAST(NULL AS VARCHAR(5)) FROM hut WHERE code = 'VARN';
--> value NULL
SELECT name LIKE height FROM hut;
--> fails 42804
