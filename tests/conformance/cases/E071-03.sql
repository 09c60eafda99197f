-- E071-03 Basic query expressions: EXCEPT DISTINCT table operator
--# case EXCEPT DISTINCT
SELECT a FROM pair EXCEPT SELECT 2;
--> rows in any order
-->   1
-->   3
-->   NULL
SELECT a FROM pair EXCEPT DISTINCT SELECT NULL;
--> count 3
SELECT a FROM pair EXCEPT SELECT DATE '2031-01-01';
--> fails 42804
