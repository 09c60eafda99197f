--# case T526 10.4 defaults for parameters of a table function
CREATE FUNCTION upto(n INTEGER DEFAULT 2) RETURNS TABLE (a INTEGER) RETURN TABLE (SELECT p.a FROM pair p WHERE p.a <= n);
SELECT COUNT(*) FROM TABLE(upto());
--> value 3
SELECT COUNT(*) FROM TABLE(upto(1));
--> value 1
SELECT COUNT(*) FROM TABLE(upto(NULL));
--> value 0
SELECT COUNT(*) FROM TABLE(upto(n => 3));
--> value 4
SELECT 1 FROM TABLE(upto(1, 2));
--> fails 42884
--# case T526 10.4 defaults of a table function
CREATE FUNCTION over(n INTEGER DEFAULT 2) RETURNS TABLE (x INTEGER) RETURN TABLE (SELECT a FROM pair WHERE a > n);
SELECT COUNT(*) FROM TABLE(over()) AS t;
--> value 1
SELECT COUNT(*) FROM TABLE(over(DEFAULT)) AS t, TABLE(over(n => 1)) AS u;
--> value 3