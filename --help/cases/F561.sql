--# case F561 6.28 values in full wherever a value may stand
SELECT UPPER(TRIM(name) || CASE WHEN height > 2000 THEN '!' ELSE '' END) FROM hut WHERE COALESCE(height, 0) + 1 IN (beds * 0 + 1841, (SELECT MAX(height) FROM hut) + 1) ORDER BY height + beds;
--> rows
-->   'VARN HUT'
-->   'SELT REFUGE!'
SELECT a FROM pair WHERE a + b BETWEEN (SELECT 10) AND 10 + 3 AND b NOT IN (a, NULL, 20 + 0);
--> no rows
SELECT a FROM pair ORDER BY (SELECT 1, 2);
--> fails 42601
--# case F561 6.28 a value of any kind in FETCH's USING, SET and VALUES
INSERT INTO pair VALUES ((SELECT MAX(a) FROM pair) + ABS(-1), CASE WHEN EXISTS (SELECT 1 FROM hut) THEN POWER(2, 3) END);
--> change pair +1