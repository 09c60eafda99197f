--# case F021-05 11/6.1 the view REFERENTIAL_CONSTRAINTS
CREATE TABLE t (g INTEGER REFERENCES guest MATCH FULL ON DELETE CASCADE ON UPDATE SET NULL);
SELECT constraint_name, unique_constraint_name, match_option, update_rule, delete_rule FROM information_schema.referential_constraints WHERE constraint_name LIKE 't%' OR constraint_name = 'stay_hut_fk' ORDER BY constraint_name;
--> rows
-->   'stay_hut_fk' | 'hut_code_pk' | 'NONE' | 'NO ACTION' | 'NO ACTION'
-->   't_g_fk' | 'guest_id_pk' | 'FULL' | 'SET NULL' | 'CASCADE'
SELECT nothing FROM information_schema.referential_constraints;
--> fails 42703