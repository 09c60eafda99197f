--# case P003 11/6.1 views for routines and parameters
CREATE MODULE m DECLARE PROCEDURE p(IN a INTEGER) BEGIN END; END MODULE;
CREATE FUNCTION t() RETURNS TABLE (n INTEGER) RETURN TABLE (VALUES (1));
SELECT routine_name, module_name, routine_type, data_type FROM information_schema.routines ORDER BY routine_name;
--> rows
-->   'p' | 'm' | 'PROCEDURE' | NULL
-->   't' | NULL | 'FUNCTION' | 'TABLE'
SELECT parameter_name, is_result FROM information_schema.parameters WHERE specific_name = 'p';
--> rows
-->   'a' | 'NO'
SELECT no_such FROM information_schema.parameters;
--> fails 42703