-- P005 Qualified SQL variable references
--# case variables qualified by the label of their block
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER top: BEGIN
  DECLARE x INTEGER DEFAULT 1;
  below: BEGIN
    DECLARE x INTEGER DEFAULT 10;
    RETURN top.x + below.x + f.n;
  END below;
END top;
SELECT f(100), f(NULL);
--> rows
-->   111 | NULL
CREATE FUNCTION g() RETURNS INTEGER top: BEGIN DECLARE x INTEGER; RETURN bottom.x; END top;
--> fails 42703
