--# case F304 7.17 EXCEPT ALL counts
SELECT a FROM pair EXCEPT ALL SELECT 2;
--> count 5
(VALUES (1), (1), (NULL), (NULL)) EXCEPT ALL (VALUES (1), (NULL));
--> rows in any order
-->   1
-->   NULL
SELECT 1 EXCEPT ALL SELECT DATE '2031-01-01';
--> fails 42804
--# case F304 7.17 m less n rows are left, or none
SELECT COUNT(*) FROM ((VALUES (1), (1), (1), (2)) EXCEPT ALL (VALUES (1), (2), (2))) AS t (x);
--> value 2