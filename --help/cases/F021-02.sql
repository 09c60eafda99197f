--# case F021-02 11/6.1 the view TABLES
CREATE VIEW v AS SELECT 1 AS a;
CREATE GLOBAL TEMPORARY TABLE t (a INTEGER);
SELECT table_name, table_type, commit_action FROM information_schema.tables WHERE table_name IN ('v', 't', 'hut') ORDER BY table_name;
--> rows
-->   'hut' | 'BASE TABLE' | NULL
-->   't' | 'GLOBAL TEMPORARY' | 'DELETE'
-->   'v' | 'VIEW' | NULL
INSERT INTO information_schema.tables VALUES (1);
--> fails 42807