--# case S091-03 6.42 array expressions
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
--# case S091-03 6.40 arrays are concatenated in order
SELECT ARRAY[1] || ARRAY[2, 3] = ARRAY[1, 2, 3], ARRAY[1, 2] <> ARRAY[2, 1];
--> rows
-->   TRUE | TRUE
--# case S091-03 7.6 UNNEST gives the elements in order, with their number
SELECT x, n FROM UNNEST(ARRAY['a', 'b']) WITH ORDINALITY AS t (x, n) ORDER BY n;
--> rows
-->   'a' | 1
-->   'b' | 2