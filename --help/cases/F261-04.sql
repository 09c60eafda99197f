--# case F261-04 6.12 COALESCE
SELECT COALESCE(NULL, 2, 1 / 0), COALESCE(NULL, NULL), COALESCE('a');
--> rows
-->   2 | NULL | 'a'
SELECT COALESCE(1, 'a');
--> fails 42804
--# case F261-04 6.12 COALESCE takes the first that is no NULL, and asks no further
SELECT COALESCE(1, 1 / 0), COALESCE(NULL, NULL, 3, NULL), COALESCE(a, b, -1) FROM pair WHERE a IS NULL AND b IS NOT NULL;
--> rows
-->   1 | 3 | 30
--# case F261-04 6.12 its types are brought together
SELECT COALESCE(NULL, 1, 2.5), COALESCE(CAST(NULL AS DATE), DATE '2031-01-01');
--> rows
-->   1.0 | DATE '2031-01-01'