--# case E071-03 7.17 EXCEPT DISTINCT
SELECT a FROM pair EXCEPT SELECT 2;
--> rows in any order
-->   1
-->   3
-->   NULL
SELECT a FROM pair EXCEPT DISTINCT SELECT NULL;
--> count 3
SELECT a FROM pair EXCEPT SELECT DATE '2031-01-01';
--> fails 42804
--# case E071-03 7.17 EXCEPT takes NULL away from NULL
SELECT a FROM pair EXCEPT SELECT a FROM pair WHERE a IS NULL;
--> rows in any order
-->   1
-->   2
-->   3
--# case E071-03 7.17 EXCEPT is none of the left when all are there on the right
SELECT a FROM pair EXCEPT SELECT a FROM pair;
--> no rows