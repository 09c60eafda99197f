--# case E071-06 7.17 table operators in subqueries
SELECT COUNT(*) FROM (SELECT a FROM pair UNION SELECT b FROM pair) u;
--> value 7
SELECT name FROM hut WHERE height IN (SELECT 1840 UNION SELECT NULL);
--> value 'Varn hut'
SELECT (SELECT 1 UNION SELECT 2);
--> fails 21000
--# case E071-06 7.17 UNION and EXCEPT go from left to right, INTERSECT first
(VALUES (1)) UNION ALL (VALUES (1)) EXCEPT (VALUES (1));
--> no rows
--# case E071-06 7.17 parentheses change it
(VALUES (1)) UNION ALL ((VALUES (1)) EXCEPT (VALUES (1)));
--> value 1