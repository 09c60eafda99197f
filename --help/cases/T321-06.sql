--# case T321-06 11/6.1 the view ROUTINES
CREATE FUNCTION f(a INTEGER) RETURNS DECIMAL(5,2) DETERMINISTIC CONTAINS SQL RETURN 1;
CREATE PROCEDURE p() BEGIN END;
SELECT routine_name, routine_type, data_type, numeric_precision, is_deterministic, sql_data_access FROM information_schema.routines ORDER BY routine_name;
--> rows
-->   'f' | 'FUNCTION' | 'DECIMAL' | 5 | 'YES' | 'CONTAINS'
-->   'p' | 'PROCEDURE' | NULL | NULL | 'NO' | 'CONTAINS'
SELECT routine_color FROM information_schema.routines;
--> fails 42703