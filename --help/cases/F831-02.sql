--# case F831-02 14.3 an updatable ordered cursor
CREATE PROCEDURE p() BEGIN DECLARE x INTEGER; DECLARE c CURSOR FOR SELECT id FROM stay ORDER BY price DESC, id FOR UPDATE; OPEN c; FETCH c INTO x; UPDATE stay SET price = 1 WHERE CURRENT OF c; FETCH c INTO x; UPDATE stay SET price = 2 WHERE CURRENT OF c; END;
CALL p();
--> change stay (5) price NULL -> 1
--> change stay (2) price 42.00 -> 2
CREATE PROCEDURE q() BEGIN DECLARE c CURSOR FOR SELECT id FROM stay ORDER BY price FOR READ ONLY; DELETE FROM stay WHERE CURRENT OF c; END;
--> fails 42828