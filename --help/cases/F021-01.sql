--# case F021-01 11/6.1 the view COLUMNS
CREATE TABLE t (a DECIMAL(6,2) DEFAULT 1.5, b CHAR(3) NOT NULL, c DATE, d INTEGER GENERATED ALWAYS AS IDENTITY);
SELECT column_name, ordinal_position, column_default, is_nullable, data_type, character_maximum_length, numeric_precision, numeric_scale, is_identity FROM information_schema.columns WHERE table_name = 't' ORDER BY ordinal_position;
--> rows
-->   'a' | 1 | '1.5' | 'YES' | 'DECIMAL' | NULL | 6 | 2 | 'NO'
-->   'b' | 2 | NULL | 'NO' | 'CHARACTER' | 3 | NULL | NULL | 'NO'
-->   'c' | 3 | NULL | 'YES' | 'DATE' | NULL | NULL | NULL | 'NO'
-->   'd' | 4 | NULL | 'NO' | 'INTEGER' | NULL | 10 | 0 | 'YES'
SELECT colour FROM information_schema.columns;
--> fails 42703