-- T041-01 Basic LOB data type support: BLOB data type
--# case BLOB
CREATE TABLE t (b BINARY LARGE OBJECT(1M), c BLOB);
INSERT INTO t VALUES (X'00FF', NULL);
SELECT b, c, OCTET_LENGTH(b) FROM t;
--> rows
-->   X'00FF' | NULL | 2
INSERT INTO t VALUES ('text', NULL);
--> fails 42804
