--# case F491 11.6 constraints have names, given or made
CREATE TABLE t (a INTEGER CONSTRAINT t_a_known NOT NULL, b INTEGER UNIQUE, CONSTRAINT order_ CHECK (a < b));
SELECT constraint_name, constraint_type FROM information_schema.table_constraints WHERE table_name = 't' ORDER BY constraint_name;
--> rows
-->   'order_' | 'CHECK'
-->   't_b_key' | 'UNIQUE'
INSERT INTO t VALUES (2, 1);
--> fails 23514 like '%order_%'
INSERT INTO t VALUES (2, NULL);
--> change t +1
ALTER TABLE t ADD CONSTRAINT order_ CHECK (a > 0);
--> fails 42710