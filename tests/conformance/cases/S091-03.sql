-- S091-03 Basic array support: Array expressions
--# case array expressions
SELECT ARRAY[1, 2] || ARRAY[3], CARDINALITY(ARRAY[1] || ARRAY[NULL]), TRIM_ARRAY(ARRAY[1, 2, 3], 1), ARRAY(SELECT id FROM guest WHERE id < 103 ORDER BY id DESC);
--> rows
-->   ARRAY[1, 2, 3] | 2 | ARRAY[1, 2] | ARRAY[102, 101]
SELECT ARRAY[1, 2] = ARRAY[1, 2], ARRAY[1] = ARRAY[1, 2], ARRAY[1, NULL] = ARRAY[1, 2], ARRAY[1] <> ARRAY[2];
--> rows
-->   TRUE | FALSE | NULL | TRUE
SELECT u.x, u.n FROM UNNEST(ARRAY['a', 'b']) WITH ORDINALITY AS u (x, n) ORDER BY n DESC;
--> rows
-->   'b' | 2
-->   'a' | 1
SELECT COUNT(*) FROM UNNEST(CAST(NULL AS INTEGER ARRAY[3])) AS u (x);
--> value 0
SELECT TRIM_ARRAY(ARRAY[1], 2);
--> fails 2202E
SELECT ARRAY[1, 'x'];
--> fails 42804
SELECT 5[1];
--> fails 42804
