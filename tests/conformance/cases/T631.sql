-- T631 IN predicate with one list element
--# case IN with one element
SELECT a FROM pair WHERE a IN (3);
--> rows
-->   3
SELECT 1 IN (NULL), 1 NOT IN (2);
--> rows
-->   NULL | TRUE
SELECT a IN () FROM pair;
--> fails 42601
