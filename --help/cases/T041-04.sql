--# case T041-04 6.31 concatenation of large objects
CREATE TABLE t (c CLOB, b BLOB);
INSERT INTO t VALUES ('ab', X'01');
SELECT c || 'c' || c, b || X'02', c || NULL FROM t;
--> rows
-->   'abcab' | X'0102' | NULL
SELECT c || b FROM t;
--> fails 42804