--# case T641 14.15 several columns assigned at once
UPDATE pair SET (a, b) = (b, a) WHERE a = 1;
--> change pair ~1
SELECT b FROM pair WHERE a = 10;
--> value 1
UPDATE stay SET (night, price) = (SELECT MAX(night), NULL FROM stay WHERE hut = 'KOLM') WHERE id = 1;
--> change stay (1) price 31.50 -> NULL
--> change stay (1) night '2031-07-14' -> '2031-08-02'
UPDATE pair SET (a, b) = (1, 2, 3);
--> fails 42601
--# case T641 14.15 several columns from one subquery, NULLs when it has no row
UPDATE pair SET (a, b) = (SELECT 30, 300 FROM hut WHERE code = 'VARN') WHERE a = 3;
SELECT b FROM pair WHERE a = 30;
--> value 300
UPDATE pair SET (a, b) = (SELECT 1, 1 FROM hut WHERE FALSE) WHERE a = 30;
SELECT COUNT(*) FROM pair WHERE a IS NULL AND b IS NULL;
--> value 2