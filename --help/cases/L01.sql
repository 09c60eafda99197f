-- L01 SELECT ... FOR UPDATE and FOR SHARE: row locks held to the end of the transaction
--# case row locks of FOR UPDATE and FOR SHARE are held to the end of the transaction
--# session desk
SELECT name FROM guest WHERE id = 101 FOR UPDATE;
--> value 'Ilva'
--> lock row guest (101) X
--> lock table guest IX
SELECT name FROM guest WHERE id = 102 FOR SHARE OF guest;
--> lock row guest (102) S
--> open
--# session phone
SELECT name FROM guest WHERE id = 102 FOR SHARE;
--> value 'Brann'
UPDATE guest SET name = 'x' WHERE id = 101;
--> waits for desk on guest (101)
--# session desk
COMMIT;
--> wakes phone
--> no locks
--# session phone
--> change guest (101) name 'Ilva' -> 'x'
ROLLBACK;
--# case what is locked must be rows of tables
SELECT COUNT(*) FROM guest FOR UPDATE;
--> fails 42601
SELECT name FROM guest FOR UPDATE OF hut;
--> fails 42704
SELECT name FROM guest WHERE id IS NULL FOR UPDATE;
--> no rows

--# case a cursor FOR UPDATE locks its rows when it is opened
CREATE PROCEDURE raise_two(low INTEGER) BEGIN
  DECLARE x INTEGER;
  DECLARE c CURSOR FOR SELECT a FROM pair WHERE a BETWEEN low AND low + 1 ORDER BY a FOR UPDATE OF b;
  OPEN c;
  FETCH c INTO x;
  UPDATE pair SET b = 500 WHERE CURRENT OF c;
END;
COMMIT;
CALL raise_two(1);
--> change pair ~1
--# session other
UPDATE pair SET b = 7 WHERE a = 2;
--> waits for main
--# session main
COMMIT;
--> wakes other
--# session other
ROLLBACK;
