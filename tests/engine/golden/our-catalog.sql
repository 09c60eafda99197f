-- What the views of our own tell of routines.
CREATE TABLE t (n INTEGER);
CREATE FUNCTION f (a INTEGER, b VARCHAR(5) DEFAULT 'x') RETURNS TABLE (id INTEGER, s VARCHAR(5)) RETURN TABLE (SELECT n, b FROM t WHERE n = a);
CREATE PROCEDURE p (IN a INTEGER, INOUT b DATE, OUT c INTEGER)
BEGIN
  SET c = a;
END;
--# wait 5s
CREATE OR REPLACE PROCEDURE p (IN a INTEGER, INOUT b DATE, OUT c INTEGER) BEGIN SET c = a + 1; END;
SELECT routine_name, row_type, file_name, line_number, line_count, is_valid, installed_at FROM glimb.routines ORDER BY routine_name;
SELECT routine_name, position, mode, parameter_name, type, default_text FROM glimb.parameters ORDER BY routine_name, position;
SELECT create_text FROM glimb.routines WHERE routine_name = 'f';
