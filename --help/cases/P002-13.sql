--# case P002-13 4/13.13 FOR goes through a query
CREATE FUNCTION names() RETURNS VARCHAR(200) BEGIN
  DECLARE all_of_them VARCHAR(200) DEFAULT '';
  FOR g AS SELECT name, member FROM guest ORDER BY id DO
    SET all_of_them = all_of_them || g.name || CASE WHEN g.member IS NULL THEN '?' WHEN member THEN '+' ELSE '-' END;
  END FOR;
  RETURN all_of_them;
END;
SELECT names();
--> value 'Ilva+Brann-Mirel+Tove?'
CREATE PROCEDURE p() FOR g AS SELECT name FROM guest DO SET name = 'x'; END FOR;
--> fails 42807
--# case P002-13 4/13.13 FOR has the columns as variables, in the order of its query
CREATE FUNCTION f() RETURNS VARCHAR(40) BEGIN DECLARE t VARCHAR(40) DEFAULT ''; FOR r AS SELECT id, name FROM guest ORDER BY id DESC DO SET t = t || r.name || CAST(id AS VARCHAR(4)) || ' '; END FOR; RETURN t; END;
SELECT f();
--> value 'Tove104 Mirel103 Brann102 Ilva101 '
--# case P002-13 4/13.13 no rows, no rounds, and no condition of class 02 for the block
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE n INTEGER DEFAULT 0; DECLARE EXIT HANDLER FOR NOT FOUND RETURN -1; FOR r AS SELECT a FROM pair WHERE a > 9 DO SET n = n + 1; END FOR; RETURN n; END;
SELECT f();
--> value 0
--# case P002-13 4/13.13 its query sees no rows that its body adds
CREATE PROCEDURE p() FOR r AS SELECT a FROM pair WHERE a IS NOT NULL DO INSERT INTO pair VALUES (r.a + 50, 0); END FOR;
CALL p();
--> change pair +4
--# case P002-13 4/13.13 LEAVE ends it
CREATE FUNCTION f() RETURNS INTEGER BEGIN DECLARE n INTEGER DEFAULT 0; x: FOR r AS SELECT id FROM guest ORDER BY id DO IF r.id = 103 THEN LEAVE x; END IF; SET n = n + 1; END FOR x; RETURN n; END;
SELECT f();
--> value 2