-- Every kind of expectation, with another value than the one that comes: what `pin --slips` puts in its place.
--# case results
SELECT n FROM (VALUES (1), (2)) AS v (n);
--> count 9
CALL both_lists();
--> count 8
--> count 9 of result 2
--> rows of result 2 in any order
-->   99
--> rows of result 3
-->   1
CALL both_lists();
--> no rows
CREATE PROCEDURE twice() DYNAMIC RESULT SETS 2 BEGIN
  DECLARE one CURSOR WITH RETURN FOR VALUES 1, 1;
  DECLARE two CURSOR WITH RETURN FOR VALUES 1, 1;
  OPEN one;
  OPEN two;
END;
CALL twice();
--> rows
-->   2
--> rows of result 2
-->   2
SELECT n, n / 3.0 AS third, CAST(NULL AS VARCHAR(5)) AS nothing FROM (VALUES (1), (2)) AS v (n);
--> rows in any order
-->   nothing | n | third
-->   NULL    | 2 | 0.5
-->   NULL    | 1 | 0.5
--> rows include within 0.01
-->   2 | 0.6 | NULL
--> rows
-->   1 | ... | 'x'
-->   2 | ... | NULL
SELECT AVG(share) FROM carrying;
--> value 9 within 0.2
SELECT id FROM parcel WHERE id = 1;
--> value 2
--> fails 22012
SELECT 1 WHERE 1 = 0;
--> value 2
SELECT 1 / (id - 1) FROM parcel WHERE id = 1;
--> value 2
--> fails 42601 like '%x%' in fare line 3
--> count 1
--# case changes
UPDATE parcel SET label = 'as ''new''', weight = 3 WHERE id IN (1, 2);
--> count 9
--> change parcel (1) label 'x' -> 'y'
--> change parcel (2) weight 7 -> 8
--> change parcel (3) label 'x' -> 'y'
--> change parcel +1
--> change depot ~1
--> no change
--> no locks
--> lock row parcel (1) S
--> lock row depot ('N') X
--> lock table parcel S
--> committed
--> holds (SELECT COUNT(*) FROM parcel WHERE weight = 3) = 9
SAVEPOINT here;
--> committed
DELETE FROM parcel WHERE id = 1;
--> no other change
--> waits for nobody
--> deadlock
ROLLBACK TO SAVEPOINT here;
--> to savepoint there
--> open
COMMIT;
--> open
--> rolled back
CALL give_out(7, DATE '2030-04-01', 12, ?, ?);
--> value given = 9
--> value told = 'x'
--> note 'x'
--> no notes
--> no other notes
--> at given given = 99
--> at given 3 p = 77
--> at given 99 p = 77
--> never at given
--> handled 42704
--> handled like '%x%' in fare

--# case more notes than are told
BEGIN DECLARE i INTEGER DEFAULT 0; WHILE i < 7 DO SET i = i + 1; CALL note('n' || CAST(i AS VARCHAR(3))); END WHILE; END;
--> no notes
BEGIN CALL note('a'); CALL note('b'); CALL note('c'); CALL note('d'); CALL note('e'); END;
--> no notes
