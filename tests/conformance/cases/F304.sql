-- F304 EXCEPT ALL table operator
--# case EXCEPT ALL counts
SELECT a FROM pair EXCEPT ALL SELECT 2;
--> count 5
(VALUES (1), (1), (NULL), (NULL)) EXCEPT ALL (VALUES (1), (NULL));
--> rows in any order
-->   1
-->   NULL
SELECT 1 EXCEPT ALL SELECT DATE '2031-01-01';
--> fails 42804
