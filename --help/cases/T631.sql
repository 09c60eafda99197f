--# case T631 8.4 IN with one element
SELECT a FROM pair WHERE a IN (3);
--> value 3
SELECT 1 IN (NULL), 1 NOT IN (2);
--> rows
-->   NULL | TRUE
SELECT a IN () FROM pair;
--> fails 42601
--# case T631 8.4 one element, a NULL, a row
SELECT 1 IN (1), 1 IN (NULL), (1, 2) IN ((1, 2));
--> rows
-->   TRUE | NULL | TRUE