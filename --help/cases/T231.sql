--# case T231 14.1 what changes is seen at the next FETCH
CREATE PROCEDURE look() BEGIN
  DECLARE x, y INTEGER;
  DECLARE c SENSITIVE SCROLL CURSOR FOR SELECT a, b FROM pair WHERE a < 40 ORDER BY a;
  DELETE FROM pair;
  INSERT INTO pair VALUES (10, 1), (20, 2), (30, 3);
  OPEN c;
  FETCH c INTO x, y;
  CALL note(CAST(x AS VARCHAR(3)));
  INSERT INTO pair VALUES (15, 9);
  FETCH c INTO x, y;
  CALL note(CAST(x AS VARCHAR(3)));
  UPDATE pair SET b = 77 WHERE a = 20;
  FETCH c INTO x, y;
  CALL note(CAST(x AS VARCHAR(3)) || ':' || CAST(y AS VARCHAR(3)));
  UPDATE pair SET a = 25 WHERE CURRENT OF c;
  FETCH RELATIVE 0 FROM c INTO x, y;
  CALL note(CAST(x AS VARCHAR(3)));
  DELETE FROM pair WHERE CURRENT OF c;
  BEGIN
    DECLARE EXIT HANDLER FOR SQLSTATE '24000' CALL note('gone');
    DELETE FROM pair WHERE CURRENT OF c;
  END;
  FETCH PRIOR FROM c INTO x, y;
  CALL note(CAST(x AS VARCHAR(3)));
  FETCH NEXT FROM c INTO x, y;
  CALL note(CAST(x AS VARCHAR(3)));
  BEGIN
    DECLARE EXIT HANDLER FOR NOT FOUND CALL note('end');
    FETCH NEXT FROM c INTO x, y;
  END;
  INSERT INTO pair VALUES (5, 5);
  FETCH FIRST FROM c INTO x, y;
  CALL note(CAST(x AS VARCHAR(3)));
END;
CALL look();
--> note '10'
--> note '15'
--> note '20:77'
--> note '25'
--> note 'gone'
--> note '15'
--> note '30'
--> note 'end'
--> note '5'
--# case T231 14.1 variables keep the values of OPEN, and a query that gives no plain rows is computed anew
CREATE PROCEDURE counted() BEGIN
  DECLARE low INTEGER DEFAULT 50;
  DECLARE n INTEGER;
  DECLARE c SENSITIVE SCROLL CURSOR FOR SELECT COUNT(*) FROM pair WHERE a >= low;
  OPEN c;
  SET low = 1000;
  FETCH c INTO n;
  CALL note(CAST(n AS VARCHAR(3)));
  INSERT INTO pair VALUES (60, NULL), (NULL, 1);
  FETCH FIRST FROM c INTO n;
  CALL note(CAST(n AS VARCHAR(3)));
END;
CALL counted();
--> note '0'
--> note '1'
CREATE PROCEDURE wrong() BEGIN DECLARE c SENSITIVE CURSOR FOR SELECT nothing FROM pair; END;
--> fails 42703
--# case T231 14.1 changes that others commit
CREATE PROCEDURE seen(OUT n INTEGER) BEGIN
  DECLARE c SENSITIVE SCROLL CURSOR FOR SELECT a FROM pair WHERE a > 90;
  OPEN c;
  FETCH c INTO n;
  UPDATE hut SET name = name WHERE code = 'VARN';
  FETCH FIRST FROM c INTO n;
END;
COMMIT;
--# session other
UPDATE hut SET name = name WHERE code = 'VARN';
INSERT INTO pair VALUES (95, 1);
--# session main
CALL seen(?);
--> waits for other
--# session other
COMMIT;
--> wakes main
--# session main
--> value n = 95