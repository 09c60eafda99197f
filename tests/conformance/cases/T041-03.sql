-- T041-03 Basic LOB data type support: POSITION, LENGTH, LOWER, TRIM, UPPER, and SUBSTRING functions for LOB data types
--# case functions over large objects
CREATE TABLE t (c CLOB, b BLOB);
INSERT INTO t VALUES ('  Varn hut ', X'0A0B0C'), (NULL, NULL);
SELECT POSITION('hut' IN c), CHAR_LENGTH(c), LOWER(c), UPPER(TRIM(c)), SUBSTRING(c FROM 3 FOR 4), OCTET_LENGTH(b) FROM t;
--> rows
-->   8 | 11 | '  varn hut ' | 'VARN HUT' | 'Varn' | 3
-->   NULL | NULL | NULL | NULL | NULL | NULL
SELECT POSITION(X'0B' IN b), SUBSTRING(b FROM 2), TRIM(LEADING X'0A' FROM b) FROM t WHERE b IS NOT NULL;
--> rows
-->   2 | X'0B0C' | X'0B0C'
SELECT UPPER(b) FROM t;
--> fails 42884
