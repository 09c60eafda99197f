--# case T321-07 11/6.1 the view PARAMETERS
CREATE PROCEDURE p(IN a INTEGER DEFAULT 5, OUT b VARCHAR(9)) BEGIN END;
SELECT parameter_name, parameter_mode, ordinal_position, data_type, character_maximum_length, parameter_default FROM information_schema.parameters WHERE specific_name = 'p' ORDER BY ordinal_position;
--> rows
-->   'a' | 'IN' | 1 | 'INTEGER' | NULL | '5'
-->   'b' | 'OUT' | 2 | 'CHARACTER VARYING' | 9 | NULL
SELECT 1 FROM information_schema.arguments;
--> fails 42704