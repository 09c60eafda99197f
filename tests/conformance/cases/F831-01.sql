-- F831-01 Full cursor update: Updatable scrollable cursors
--# case an updatable scrollable cursor
CREATE PROCEDURE p() BEGIN DECLARE x INTEGER; DECLARE c SCROLL CURSOR FOR SELECT id FROM stay FOR UPDATE OF price; OPEN c; FETCH ABSOLUTE 3 FROM c INTO x; UPDATE stay SET price = NULL WHERE CURRENT OF c; END;
CALL p();
--> change stay (3) price 28.00 -> NULL
CREATE PROCEDURE q() BEGIN DECLARE x INTEGER; DECLARE c SCROLL CURSOR FOR SELECT id FROM stay FOR UPDATE OF colour; END;
--> fails 42703
