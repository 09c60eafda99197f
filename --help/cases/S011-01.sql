--# case S011-01 11/6.1 the view USER_DEFINED_TYPES
CREATE TYPE metres AS DECIMAL(7,2) FINAL;
SELECT user_defined_type_name, user_defined_type_category, is_final, data_type, numeric_precision, numeric_scale FROM information_schema.user_defined_types;
--> rows
-->   'metres' | 'DISTINCT' | 'YES' | 'DECIMAL' | 7 | 2
DROP TYPE metres;
SELECT COUNT(*) FROM information_schema.user_defined_types;
--> value 0
CREATE TYPE again AS again FINAL;
--> fails 42704