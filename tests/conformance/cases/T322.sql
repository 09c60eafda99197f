-- T322 Declared data type attributes
--# case what was declared of a data type
CREATE TABLE t (a NUMERIC(7,3), b INTEGER, c VARCHAR(5));
SELECT column_name, declared_data_type, declared_numeric_precision, declared_numeric_scale FROM information_schema.columns WHERE table_name = 't' ORDER BY ordinal_position;
--> rows
-->   'a' | 'DECIMAL' | 7 | 3
-->   'b' | 'INTEGER' | NULL | NULL
-->   'c' | NULL | NULL | NULL
CREATE TABLE u (a NUMERIC(3,7));
--> fails 42601
