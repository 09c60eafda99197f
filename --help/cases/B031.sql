--# case B031 20.1 PREPARE, EXECUTE, EXECUTE IMMEDIATE
PREPARE p FROM 'UPDATE pair SET b = ? WHERE a = ?';
CREATE PROCEDURE run(IN x INTEGER, IN y INTEGER) BEGIN PREPARE p FROM 'UPDATE pair SET b = ? WHERE a = ?'; EXECUTE p USING x, y; END;
CALL run(99, 1);
--> change pair ~1
CALL run(NULL, 3);
--> change pair ~1
EXECUTE IMMEDIATE 'DELETE FROM pair WHERE a = 2';
--> change pair -2
EXECUTE IMMEDIATE 'DELETE FORM pair';
--> fails 42601
EXECUTE IMMEDIATE 'SELECT 1 / 0';
--> fails 22012
EXECUTE IMMEDIATE NULL;
--> fails 22004
EXECUTE nothing;
--> fails 26000
--# case B031 20.1 values come and go by USING and INTO
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER BEGIN DECLARE r INTEGER; PREPARE q FROM 'SELECT b FROM pair WHERE a = ? + 0'; EXECUTE q INTO r USING n; DEALLOCATE PREPARE q; RETURN r; END;
SELECT f(1);
--> value 10
SELECT f(2);
--> fails 21000
--# case B031 20.1 a cursor over a prepared statement
CREATE FUNCTION nth(n INTEGER) RETURNS VARCHAR(30) BEGIN
  DECLARE v VARCHAR(30);
  DECLARE i INTEGER DEFAULT 0;
  DECLARE c CURSOR FOR s;
  PREPARE s FROM 'SELECT name FROM guest WHERE id > ? ORDER BY id';
  OPEN c USING n;
  FETCH c INTO v;
  CLOSE c;
  RETURN v;
END;
SELECT nth(102), nth(NULL);
--> rows
-->   'Mirel' | NULL
--# case B031 20.1 descriptor areas
CREATE PROCEDURE describe_it(n INTEGER) BEGIN
  DECLARE cnt, ty, ln, ind INTEGER;
  DECLARE nm VARCHAR(30);
  DECLARE v INTEGER;
  ALLOCATE DESCRIPTOR 'out' WITH MAX 5;
  ALLOCATE SQL DESCRIPTOR 'in';
  PREPARE s FROM 'SELECT a, b AS bee, ''x'' || ''y'' FROM pair WHERE a = ? AND b IS NOT NULL';
  DESCRIBE OUTPUT s USING SQL DESCRIPTOR 'out';
  GET DESCRIPTOR 'out' cnt = COUNT;
  GET DESCRIPTOR 'out' VALUE 2 nm = NAME, ty = TYPE;
  CALL note(CAST(cnt AS VARCHAR(3)) || ' ' || nm || ' ' || CAST(ty AS VARCHAR(3)));
  GET DESCRIPTOR 'out' VALUE cnt nm = NAME, ty = TYPE, ln = LENGTH;
  CALL note(nm || ' ' || CAST(ty AS VARCHAR(3)) || ' ' || CAST(ln AS VARCHAR(3)));
  DESCRIBE INPUT s USING DESCRIPTOR 'in';
  GET DESCRIPTOR 'in' cnt = COUNT;
  SET DESCRIPTOR 'in' COUNT = 1;
  SET DESCRIPTOR 'in' VALUE cnt TYPE = 4, DATA = n;
  EXECUTE s USING DESCRIPTOR 'in' INTO SQL DESCRIPTOR 'out';
  GET DESCRIPTOR 'out' VALUE 2 v = DATA, ind = INDICATOR;
  CALL note(CAST(v AS VARCHAR(10)) || ' ' || CAST(ind AS VARCHAR(3)));
  SET DESCRIPTOR 'in' VALUE 1 INDICATOR = -1;
  PREPARE u FROM 'UPDATE pair SET b = ? WHERE a = 1';
  EXECUTE u USING DESCRIPTOR 'in';
  DEALLOCATE DESCRIPTOR 'out';
  DEALLOCATE DESCRIPTOR 'in';
END;
CALL describe_it(1);
--> note '3 bee 4'
--> note 'column3 12 2'
--> note '10 0'
SELECT b FROM pair WHERE a = 1;
--> value NULL
CREATE FUNCTION second_name() RETURNS VARCHAR(30) BEGIN
  DECLARE nm VARCHAR(30);
  DECLARE c CURSOR FOR q;
  ALLOCATE DESCRIPTOR 'd';
  SET DESCRIPTOR 'd' COUNT = 1;
  SET DESCRIPTOR 'd' VALUE 1 DATA = 101;
  PREPARE q FROM 'SELECT id, name FROM guest WHERE id > ? ORDER BY id';
  OPEN c USING DESCRIPTOR 'd';
  DESCRIBE CURSOR c STRUCTURE USING DESCRIPTOR 'd';
  FETCH c INTO DESCRIPTOR 'd';
  GET DESCRIPTOR 'd' VALUE 2 nm = DATA;
  DEALLOCATE DESCRIPTOR 'd';
  RETURN nm;
END;
SELECT second_name() = (SELECT name FROM guest WHERE id > 101 ORDER BY id FETCH FIRST ROW ONLY);
--> value TRUE
ALLOCATE DESCRIPTOR 'd' WITH MAX 2;
ALLOCATE DESCRIPTOR 'd';
--> fails 33000
SET DESCRIPTOR 'd' COUNT = 3;
--> fails 07008
SET DESCRIPTOR 'd' VALUE 3 DATA = 1;
--> fails 07009
DEALLOCATE DESCRIPTOR NULL;
--> fails 33000
ALLOCATE DESCRIPTOR 5;
--> fails 42804
--# case B031 20.1 positioned changes through a cursor over a prepared statement
CREATE PROCEDURE change_two(q VARCHAR(100)) BEGIN
  DECLARE x INTEGER;
  DECLARE c CURSOR FOR s;
  PREPARE s FROM q;
  OPEN c;
  FETCH c INTO x;
  UPDATE pair SET b = 700 WHERE CURRENT OF c;
  FETCH c INTO x;
  DELETE FROM pair WHERE CURRENT OF c;
END;
CALL change_two('SELECT a FROM pair WHERE a IN (1, 3) ORDER BY a');
--> change pair ~1 -1
CALL change_two('SELECT COUNT(*) FROM pair');
--> fails 42828
CALL change_two('SELECT id FROM guest');
--> fails 42828
--# case B031 20.1 an item behind COUNT is no data
CREATE PROCEDURE behind() BEGIN
  DECLARE x INTEGER DEFAULT 5;
  ALLOCATE DESCRIPTOR 'd' WITH MAX 3;
  SET DESCRIPTOR 'd' VALUE 2 DATA = 8;
  GET DESCRIPTOR 'd' VALUE 2 x = DATA;
  CALL note(CAST(x AS VARCHAR(3)));
  BEGIN
    DECLARE EXIT HANDLER FOR NOT FOUND CALL note('no data');
    GET DESCRIPTOR 'd' VALUE 2 x = DATA;
  END;
  SET DESCRIPTOR 'd' COUNT = 2;
  GET DESCRIPTOR 'd' VALUE 2 x = DATA;
  CALL note(CAST(x AS VARCHAR(3)));
END;
CALL behind();
--> note '5'
--> note 'no data'
--> note '8'
--# case B031 20.7 parameters by place
CREATE FUNCTION f(n INTEGER) RETURNS INTEGER BEGIN DECLARE x INTEGER; PREPARE s FROM 'SELECT b + ? FROM pair WHERE a = ?'; EXECUTE s INTO x USING 5, n; RETURN x; END;
SELECT f(1), f(3);
--> rows
-->   15 | 15
--# case B031 20.13 EXECUTE IMMEDIATE takes no parameters
CREATE PROCEDURE p() EXECUTE IMMEDIATE 'DELETE FROM pair WHERE a = ?';
CALL p();
--> fails 07001
--# case B031 20.7 a text that is wrong is told when it is prepared
CREATE PROCEDURE p() BEGIN DECLARE t VARCHAR(40) DEFAULT 'SELEKT 1'; PREPARE s FROM t; END;
CALL p();
--> fails 42601
--# case B031 20.9 a statement that was deallocated is not there
CREATE PROCEDURE p() BEGIN PREPARE s FROM 'DELETE FROM pair'; DEALLOCATE PREPARE s; EXECUTE s; END;
CALL p();
--> fails 26000
--# case B031 20.10 too few values are 07001
CREATE PROCEDURE p() BEGIN PREPARE s FROM 'DELETE FROM pair WHERE a = ? AND b = ?'; EXECUTE s USING 1; END;
CALL p();
--> fails 07001
--# case B031 20.10 dynamic parameters count as they are read, whatever clause comes first
CREATE PROCEDURE p(OUT n INTEGER, OUT c INTEGER) BEGIN PREPARE s FROM 'SELECT MAX(a) + ?, COUNT(*) FROM pair WHERE a > ? GROUP BY a > ? HAVING COUNT(*) > ? ORDER BY ? FETCH FIRST ? ROWS ONLY'; EXECUTE s INTO n, c USING 100, 1, 0, 2, 1, 1; END;
CALL p(?, ?);
--> value n = 103
--> value c = 3
--# case B031 20.10 of a CALL, USING gives what goes in, INTO takes what comes out
CREATE PROCEDURE twice(IN n INTEGER, OUT m INTEGER, INOUT s VARCHAR(20)) BEGIN SET m = n * 2; SET s = s || CAST(n AS VARCHAR(5)); END;
CREATE PROCEDURE p(OUT x INTEGER, OUT y VARCHAR(20)) BEGIN PREPARE s FROM 'CALL twice(s => ?, m => ?, n => ?)'; EXECUTE s INTO x, y USING 'k', 5; END;
CALL p(?, ?);
--> value x = 10
--> value y = 'k5'