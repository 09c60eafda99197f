--# case T551 5.2 key words that may be left out
SELECT ALL a FROM pair UNION DISTINCT SELECT ALL 1 EXCEPT DISTINCT SELECT NULL;
--> count 3
SELECT a FROM pair WHERE b BETWEEN ASYMMETRIC 10 AND 15 ORDER BY a ASC;
--> rows
-->   1
-->   3
SELECT DISTINCT ALL a FROM pair;
--> fails 42601
--# case T551 7.10 OUTER, WORK, AS, ASC may be left out or said
SELECT p.a x FROM pair AS p LEFT OUTER JOIN pair q ON FALSE ORDER BY x ASC FETCH FIRST 1 ROW ONLY;
--> value 1