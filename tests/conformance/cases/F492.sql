-- F492 Optional table constraint enforcement
--# case constraints that are not enforced
CREATE TABLE t (a INTEGER UNIQUE NOT ENFORCED, b INTEGER CONSTRAINT pos CHECK (b > 0) NOT ENFORCED, g INTEGER REFERENCES guest NOT ENFORCED);
INSERT INTO t VALUES (1, -1, 999), (1, NULL, NULL);
--> change t +2
SELECT COUNT(*) FROM information_schema.table_constraints WHERE table_name = 't' AND enforced = 'NO';
--> value 3
ALTER TABLE t ALTER CONSTRAINT pos ENFORCED;
--> fails 23514
DELETE FROM t WHERE b = -1;
ALTER TABLE t ALTER CONSTRAINT pos ENFORCED;
INSERT INTO t VALUES (1, -1, NULL);
--> fails 23514
ALTER TABLE t ALTER CONSTRAINT nothing ENFORCED;
--> fails 42704
