--# case P005 4/6.2 variables qualified by the label of their block
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
--# case P005 4/6.2 a column hides a variable of its name, a qualified name does not
CREATE FUNCTION f(a INTEGER) RETURNS INTEGER RETURN (SELECT COUNT(*) FROM pair WHERE a = a);
CREATE FUNCTION g(a INTEGER) RETURNS INTEGER RETURN (SELECT COUNT(*) FROM pair WHERE pair.a = g.a);
SELECT f(3), g(3), g(NULL);
--> rows
-->   4 | 1 | 0