-- F121 Basic diagnostics management
--# case GET DIAGNOSTICS tells what a statement did
CREATE PROCEDURE p(OUT n INTEGER) BEGIN UPDATE pair SET b = 0 WHERE a = 2; GET DIAGNOSTICS n = ROW_COUNT; END;
CALL p(?);
--> value 2
CREATE PROCEDURE q() GET DIAGNOSTICS x = ROW_COUNT;
--> fails 42703
