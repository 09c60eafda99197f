-- F261-04 CASE expression: COALESCE
--# case COALESCE
SELECT COALESCE(NULL, 2, 1 / 0), COALESCE(NULL, NULL), COALESCE('a');
--> rows
-->   2 | NULL | 'a'
SELECT COALESCE(1, 'a');
--> fails 42804
