-- F431 Read-only scrollable cursors
--# case a scrollable cursor goes back and forth
CREATE FUNCTION walk() RETURNS VARCHAR(40) BEGIN
  DECLARE x INTEGER;
  DECLARE seen VARCHAR(40) DEFAULT '';
  DECLARE c SCROLL CURSOR FOR SELECT id FROM guest ORDER BY id FOR READ ONLY;
  OPEN c;
  FETCH LAST FROM c INTO x; SET seen = seen || CAST(x AS VARCHAR(5)) || ' ';
  FETCH PRIOR FROM c INTO x; SET seen = seen || CAST(x AS VARCHAR(5)) || ' ';
  FETCH RELATIVE -2 FROM c INTO x; SET seen = seen || CAST(x AS VARCHAR(5)) || ' ';
  FETCH ABSOLUTE 3 FROM c INTO x; SET seen = seen || CAST(x AS VARCHAR(5));
  RETURN seen;
END;
SELECT walk();
--> value '104 103 101 103'
CREATE PROCEDURE p() BEGIN DECLARE x INTEGER; DECLARE c CURSOR FOR SELECT 1; FETCH PRIOR FROM c INTO x; END;
--> fails 42601
