--# case F261-03 6.12 NULLIF
SELECT NULLIF(1, 1), NULLIF(1, 2), NULLIF(NULL, 1), NULLIF('a', 'b');
--> rows
-->   NULL | 1 | NULL | 'a'
SELECT NULLIF(1);
--> fails 42884
SELECT NULLIF(1, DATE '2031-01-01');
--> fails 42804
--# case F261-03 6.12 NULLIF is the first unless both are equal
SELECT NULLIF(2, 2.0), NULLIF('a', 'a '), NULLIF(1, NULL), NULLIF(NULL, NULL);
--> rows
-->   NULL | 'a' | 1 | NULL