--# case F021-06 11/6.1 the view CHECK_CONSTRAINTS
CREATE TABLE t (a INTEGER CONSTRAINT pos CHECK (a > 0));
SELECT constraint_name, check_clause FROM information_schema.check_constraints WHERE constraint_name IN ('pos', 'hut_check', 'hut_name_not_null') ORDER BY constraint_name;
--> rows
-->   'hut_check' | 'beds > 0'
-->   'hut_name_not_null' | 'name IS NOT NULL'
-->   'pos' | 'a > 0'
SELECT nothing FROM information_schema.check_constraints;
--> fails 42703