--# case F864 11.32 OFFSET in views
CREATE VIEW later AS SELECT id FROM guest ORDER BY id OFFSET 2 ROWS;
SELECT MIN(id), COUNT(*) FROM later;
--> rows
-->   103 | 2
CREATE VIEW wrong AS SELECT id FROM guest OFFSET 'x' ROWS;
--> fails 42804