--# case F021 11/6.1 the information schema
SELECT table_name, table_type FROM information_schema.tables ORDER BY table_name;
--> rows
-->   'guest' | 'BASE TABLE'
-->   'hut' | 'BASE TABLE'
-->   'pair' | 'BASE TABLE'
-->   'stay' | 'BASE TABLE'
SELECT COUNT(*) FROM information_schema.views;
--> value 0
DELETE FROM information_schema.tables;
--> fails 42807
SELECT 1 FROM information_schema.chairs;
--> fails 42704