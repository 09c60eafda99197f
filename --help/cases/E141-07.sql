--# case E141-07 11.5 column defaults
CREATE TABLE t (a INTEGER DEFAULT 5, b VARCHAR(10) DEFAULT 'x' || 'y', c DATE DEFAULT CURRENT_DATE, d INTEGER DEFAULT NULL);
INSERT INTO t (d) VALUES (1);
INSERT INTO t (a) VALUES (DEFAULT);
SELECT a, b, c, d FROM t;
--> rows
-->   5 | 'xy' | '2030-01-01' | 1
-->   5 | 'xy' | '2030-01-01' | NULL
UPDATE t SET a = 6, b = DEFAULT WHERE d = 1;
--> count 1
CREATE TABLE u (a INTEGER DEFAULT 'text');
--> fails 42804
--# case E141-07 11.5 a default of another type is refused when the table is made
CREATE TABLE t (a DATE DEFAULT 'soon');
--> fails 42804
--# case E141-07 11.5 each row has its own default
--# clock 2031-07-14 10:00:00
CREATE TABLE t (n INTEGER, at TIMESTAMP DEFAULT LOCALTIMESTAMP);
INSERT INTO t (n) VALUES (1);
--# wait 90s
INSERT INTO t (n) VALUES (2);
SELECT at FROM t ORDER BY n;
--> rows
-->   TIMESTAMP '2031-07-14 10:00:00'
-->   TIMESTAMP '2031-07-14 10:01:30'