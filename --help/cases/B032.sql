--# case B032 20.1 statements and cursors that values name
CREATE PROCEDURE through(sn VARCHAR(10), cn VARCHAR(10)) BEGIN
  DECLARE x INTEGER;
  PREPARE GLOBAL sn FROM 'SELECT a FROM pair WHERE a >= ? ORDER BY a';
  ALLOCATE GLOBAL cn SCROLL CURSOR FOR GLOBAL sn;
  OPEN GLOBAL cn USING 2;
  FETCH GLOBAL cn INTO x;
  CALL note(CAST(x AS VARCHAR(3)));
  FETCH LAST FROM GLOBAL cn INTO x;
  CALL note(CAST(x AS VARCHAR(3)));
  UPDATE pair SET b = 77 WHERE CURRENT OF GLOBAL cn;
  CLOSE GLOBAL cn;
  PREPARE 'lit' FROM 'UPDATE pair SET b = ? WHERE a = 1';
  EXECUTE 'lit' USING 5;
  DEALLOCATE PREPARE 'lit';
END;
DELETE FROM pair;
INSERT INTO pair VALUES (1, 2), (2, 3), (3, 4);
CALL through('s1', 'c1');
--> note '2'
--> note '3'
SELECT a, b FROM pair ORDER BY a;
--> rows
-->   1 | 5
-->   2 | 3
-->   3 | 77
CALL through('s1', 'c1');
--> fails 34000
EXECUTE 'lit' USING 1;
--> fails 26000
CALL through(NULL, 'c2');
--> fails 26000
--# case B032 20.1 a cursor that goes on in another routine
CREATE PROCEDURE begin_it() BEGIN PREPARE q FROM 'VALUES 7, 8'; ALLOCATE 'shared' CURSOR WITH HOLD FOR q; OPEN 'shared'; END;
CREATE PROCEDURE next_one(OUT n INTEGER) FETCH 'shared' INTO n;
CREATE PROCEDURE last_one(OUT n INTEGER) FETCH LAST FROM 'shared' INTO n;
CREATE PROCEDURE column_of(OUT told VARCHAR(20)) BEGIN ALLOCATE DESCRIPTOR 'd'; DESCRIBE CURSOR 'shared' STRUCTURE USING DESCRIPTOR 'd'; GET DESCRIPTOR 'd' VALUE 1 told = NAME; END;
CALL next_one(?);
--> fails 34000
CALL begin_it();
COMMIT;
CALL next_one(?);
--> value 7
CALL column_of(?);
--> value 'column1'
CALL next_one(?);
--> value 8
CALL last_one(?);
--> fails 42601
ROLLBACK;
CALL next_one(?);
--> fails 24000
ALLOCATE 5 CURSOR FOR q;
--> fails 42601