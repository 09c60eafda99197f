-- F302-02 INTERSECT table operator: INTERSECT ALL table operator
--# case INTERSECT ALL counts
SELECT a FROM pair INTERSECT ALL SELECT a FROM pair WHERE a = 2 OR a IS NULL;
--> count 4
(VALUES (1), (1), (NULL)) INTERSECT ALL (VALUES (1), (NULL), (NULL));
--> rows in any order
-->   1
-->   NULL
SELECT 1 INTERSECT ALL SELECT 1, 2;
--> fails 42601
