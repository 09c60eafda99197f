--# case E131 4.4 NULL in place of values
INSERT INTO pair VALUES (NULL, DEFAULT);
--> change pair +1
SELECT NULL, NULL + 1, NULL || 'a', COALESCE(NULL, 1), NULLIF(1, 1);
--> rows
-->   NULL | NULL | NULL | 1 | NULL
SELECT COUNT(*) FROM pair WHERE a IS NULL AND b IS NULL;
--> value 2
INSERT INTO hut VALUES (NULL, 'x', 1, 1, NULL);
--> fails 23502
--# case E131 4.4 a NULL of every type
SELECT CAST(NULL AS INTEGER), CAST(NULL AS CHAR(3)), CAST(NULL AS DATE), CAST(NULL AS BOOLEAN), CAST(NULL AS INTERVAL DAY);
--> rows
-->   NULL | NULL | NULL | NULL | NULL
--# case E131 4.4 a function called on NULL is called, unless it says RETURNS NULL ON NULL INPUT
CREATE FUNCTION told(n INTEGER) RETURNS VARCHAR(9) RETURN COALESCE(CAST(n AS VARCHAR(9)), 'none');
CREATE FUNCTION strict_one(n INTEGER) RETURNS VARCHAR(9) RETURNS NULL ON NULL INPUT RETURN COALESCE(CAST(n AS VARCHAR(9)), 'none');
SELECT told(NULL), strict_one(NULL), strict_one(1);
--> rows
-->   'none' | NULL | '1'