-- E131 Null value support (nulls in lieu of values)
--# case NULL in place of values
INSERT INTO pair VALUES (NULL, DEFAULT);
--> change pair +1
SELECT NULL, NULL + 1, NULL || 'a', COALESCE(NULL, 1), NULLIF(1, 1);
--> rows
-->   NULL | NULL | NULL | 1 | NULL
SELECT COUNT(*) FROM pair WHERE a IS NULL AND b IS NULL;
--> value 2
INSERT INTO hut VALUES (NULL, 'x', 1, 1, NULL);
--> fails 23502
