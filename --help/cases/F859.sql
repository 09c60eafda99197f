--# case F859 11.32 FETCH FIRST in views
CREATE VIEW first_two AS SELECT a FROM pair ORDER BY a NULLS FIRST FETCH FIRST 2 ROWS ONLY;
SELECT COUNT(*), COUNT(a) FROM first_two;
--> rows
-->   2 | 0
DELETE FROM first_two;
--> fails 42807