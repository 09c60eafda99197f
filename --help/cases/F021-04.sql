--# case F021-04 11/6.1 the view TABLE_CONSTRAINTS
SELECT constraint_name, constraint_type, is_deferrable, enforced FROM information_schema.table_constraints WHERE table_name IN ('hut', 'stay') ORDER BY constraint_name;
--> rows
-->   'hut_check' | 'CHECK' | 'NO' | 'YES'
-->   'hut_code_pk' | 'PRIMARY KEY' | 'NO' | 'YES'
-->   'stay_guest_fk' | 'FOREIGN KEY' | 'NO' | 'YES'
-->   'stay_hut_fk' | 'FOREIGN KEY' | 'NO' | 'YES'
-->   'stay_id_pk' | 'PRIMARY KEY' | 'NO' | 'YES'
SELECT nothing FROM information_schema.table_constraints;
--> fails 42703