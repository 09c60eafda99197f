--# setup
CREATE TABLE t (id INTEGER PRIMARY KEY, name VARCHAR(10), d DECIMAL(6,2), day DATE);
INSERT INTO t VALUES (1, 'one', 1.50, DATE '2031-01-01'), (2, NULL, NULL, NULL), (3, 'three', 3.00, DATE '2031-03-03');
CREATE PROCEDURE p(a INTEGER, OUT b INTEGER) BEGIN CALL note('in p'); SET b = 10 / a; UPDATE t SET d = b WHERE id = a; END;
COMMIT;
--# case values and rows, met
SELECT d FROM t WHERE id = 1;
--> value 1.5
--> value 1.49 within 0.01
--> count 1
SELECT id, name FROM t ORDER BY id;
--> rows include
-->   name | id
-->   'one' | 1
--> rows in any order
-->   3 | 'three'
-->   1 | 'one'
-->   2 | NULL
SELECT * FROM t WHERE id = 9;
--> no rows
SELECT day FROM t WHERE id = 1;
--> value '2031-01-01'
--> value DATE '2031-01-01'
CALL p(2, ?);
--> value b = 5
--> value 5
--> note 'in p'
--> change t ~1
--> change t (2) d NULL -> 5
--> lock row t (2) X
--> holds (SELECT SUM(d) FROM t) = 9.50
CALL p(0, ?);
--> fails 22012 like 'division%' in p
--> note 'in p'
--> no change
--> holds (SELECT COUNT(*) FROM t) = 3
--# case values and rows, slipped
SELECT d FROM t WHERE id = 1;
--> value 2
--> value NULL
--> value 'x'
--> count 2
--> no rows
--> fails 22012
--> rows
-->   1.50
-->   1.50
--> holds (SELECT COUNT(*) FROM result) = 2
--> holds (SELECT nothing FROM result) = 2
SELECT id, name FROM t ORDER BY id;
--> value 1
--> rows
-->   id | name
-->   1  | 'one'
-->   3  | 'three'
--> rows
-->   colour
-->   1
--> rows include
-->   4 | 'four'
--# case conditions, slipped
CALL p(0, ?);
--> value b = 5
--> note 'no'
--> change t ~1
CALL p(0, ?);
SELECT 1;
--> fails 22012
CALL p(0, ?);
--> fails 22012 in q
--> fails 22012 like 'x%'
--> fails 45000
CALL p(1, ?);
--> value c = 1
--> no notes
--> no change
--> change t (1) d 1.5 -> 11
--> change t (2) d 1.5 -> 10
--> no locks
--> lock row t (2) X
--> committed
--> rolled back
--> deadlock
--> wakes desk
--> waits for desk
--> to savepoint s
--# case a session that is left waiting, and a condition nobody saw
--# session a
UPDATE t SET d = 1 WHERE id = 1;
--# session b
UPDATE t SET d = 1 WHERE id = 3;
UPDATE t SET d = 1 WHERE id = 1;
--> waits for a on t (1)
--> waits for c
--> waits for a on t (2)
--# session c patience 1s
UPDATE t SET d = 1 WHERE id = 1;
--# wait 2s
--# session c
SELECT 1;
--# session d
--> value 1
