-- P002-13 Computational completeness: FOR statement
--# case FOR goes through a query
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
