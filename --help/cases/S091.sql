--# case S091 6.42 arrays
CREATE TABLE t (id INTEGER, tags VARCHAR(10) ARRAY[3]);
INSERT INTO t VALUES (1, ARRAY['a', 'b']), (2, NULL), (3, ARRAY[]);
SELECT id, CARDINALITY(tags), tags[1] FROM t WHERE id < 3 ORDER BY id;
--> rows
-->   1 | 2 | 'a'
-->   2 | NULL | NULL
SELECT tags FROM t WHERE id = 1;
--> value ARRAY['a', 'b']
SELECT tags[5] FROM t WHERE id = 1;
--> fails 2202E
INSERT INTO t VALUES (4, ARRAY['a', 'b', 'c', 'd']);
--> fails 2202F
INSERT INTO t VALUES (5, ARRAY[1]);
--> fails 42804
--# case S091 6.41 CARDINALITY, and TRIM_ARRAY from the end
SELECT CARDINALITY(ARRAY[1, 2, 3]), TRIM_ARRAY(ARRAY[1, 2, 3], 1) = ARRAY[1, 2], CARDINALITY(CAST(NULL AS INTEGER ARRAY));
--> rows
-->   3 | TRUE | NULL