--# case F302-02 7.17 INTERSECT ALL counts
SELECT a FROM pair INTERSECT ALL SELECT a FROM pair WHERE a = 2 OR a IS NULL;
--> count 4
(VALUES (1), (1), (NULL)) INTERSECT ALL (VALUES (1), (NULL), (NULL));
--> rows in any order
-->   1
-->   NULL
SELECT 1 INTERSECT ALL SELECT 1, 2;
--> fails 42601
--# case F302-02 7.17 m and n rows are the smaller of both
SELECT COUNT(*) FROM ((VALUES (1), (1), (1), (2)) INTERSECT ALL (VALUES (1), (1), (3))) AS t (x);
--> value 2