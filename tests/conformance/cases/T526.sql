-- T526 Default values for parameters of a table function
--# case defaults for parameters of a table function
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
