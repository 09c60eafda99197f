--# case F021-03 11/6.1 the view VIEWS
CREATE VIEW v AS SELECT a FROM pair WHERE a > 1 WITH CHECK OPTION;
CREATE VIEW w AS SELECT COUNT(*) AS n FROM pair;
SELECT table_name, view_definition, check_option, is_updatable FROM information_schema.views ORDER BY table_name;
--> rows
-->   'v' | 'SELECT a FROM pair WHERE a > 1' | 'CASCADED' | 'YES'
-->   'w' | 'SELECT COUNT(*) AS n FROM pair' | 'NONE' | 'NO'
SELECT nothing FROM information_schema.views;
--> fails 42703