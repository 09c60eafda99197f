--# case T041-02 6.1 CLOB
CREATE TABLE t (c CHARACTER LARGE OBJECT(10K), d CLOB);
INSERT INTO t VALUES ('a long text', NULL);
SELECT c, d, c = 'a long text' FROM t;
--> rows
-->   'a long text' | NULL | TRUE
INSERT INTO t VALUES (5, NULL);
--> fails 42804