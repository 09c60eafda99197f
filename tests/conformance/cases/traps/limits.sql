-- Limits and bad input.
--# case an endless loop ends with a condition of its own, which no handler takes
CREATE PROCEDURE endless() BEGIN DECLARE i INTEGER DEFAULT 0; DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN END; WHILE TRUE DO SET i = 1 - i; END WHILE; END;
CALL endless();
--> fails 5B001
--# case an endless recursive query ends too
WITH RECURSIVE r (n) AS (SELECT 1 UNION ALL SELECT n FROM r) SELECT COUNT(*) FROM r;
--> fails 5B004
--# case a name that does not exist gets the nearest that does
SELECT nmae FROM hut;
--> fails 42703 like '%did you mean name%'
SELECT name FROM hutt;
--> fails 42704 like '%did you mean hut%'
SELECT UPER(name) FROM hut;
--> fails 42883 like '%did you mean upper%'
--# case a table function used as a value, and the reverse
CREATE FUNCTION t() RETURNS TABLE (n INTEGER) RETURN TABLE (VALUES (1));
CREATE FUNCTION s() RETURNS INTEGER RETURN 1;
SELECT t();
--> fails 42809 like '%table function%'
SELECT * FROM TABLE(s());
--> fails 42809 like '%scalar function%'
--# case a wrong statement does not hide the next
SELEC 1;
--> fails 42601 like '%select%'
SELECT 2;
--> value 2
--# case a syntax error says what was found and what could stand there
SELECT a FROM pair WHERE;
--> fails 42601 like '%a value could stand%'
SELECT a FROM pair GROUP a;
--> fails 42601 like '%GROUP BY%'
--# case no handler takes calls that are nested too deep
CREATE PROCEDURE deep(n INTEGER) BEGIN
  DECLARE EXIT HANDLER FOR SQLEXCEPTION CALL note('caught');
  CALL deep(n + 1);
END;
CALL deep(1);
--> fails 5B003
--> no notes
CREATE PROCEDURE once() BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION CALL note('caught');
  CALL deep(1);
  CALL note('on');
END;
CALL once();
--> fails 5B003
--> no notes
CREATE PROCEDURE again() BEGIN
  DECLARE CONTINUE HANDLER FOR SQLEXCEPTION BEGIN DECLARE CONTINUE HANDLER FOR SQLEXCEPTION CALL note('inner'); CALL deep(1); END;
  SIGNAL SQLSTATE '45000';
END;
CALL again();
--> fails 5B003
--> no notes
