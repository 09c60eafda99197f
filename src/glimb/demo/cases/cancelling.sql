-- Cancelling, closing, and what is left after a condition.
--# fixture valley

--# case half the price comes back ten days ahead
CALL cancel_stay(9, DATE '2031-06-04', ?);
--> value refund = 64.00
--> change stay (9) state 'booked' -> 'cancelled'
--> lock row stay (9) X
COMMIT;
--> committed

--# case a stay is cancelled once
CALL cancel_stay(9, DATE '2031-06-04', ?);
--> change stay ~1
CALL cancel_stay(9, DATE '2031-06-04', ?);
--> fails UH002 in cancel_stay
--> no change
--> open
CALL cancel_stay(999, DATE '2031-06-03', ?);
--> fails UH003 like '%no such booking%'
ROLLBACK;

--# case a closed hut: what was booked is cancelled, all or nothing
CALL close_hut('VARN', DATE '2031-07-10', DATE '2031-07-20', 'rockfall', ?);
--> value cancelled = 3
--> change closure +1
--> change stay ~3
--> note 'tell Ansel Tarn'
SELECT * FROM TABLE(free_bunks('VARN', DATE '2031-07-16'));
--> no rows
CALL close_hut('NONE', DATE '2031-07-10', DATE '2031-07-20', 'rockfall', ?);
--> fails 23503
--> no change
ROLLBACK;
--> rolled back
SELECT COUNT(*) FROM closure WHERE reason = 'rockfall';
--> value 0

--# case a savepoint that is kept, and one that is rolled back to
--# tags savepoint
SAVEPOINT before_first;
UPDATE stay SET state = 'arrived' WHERE id = 1;
--> change stay (1) state 'booked' -> 'arrived'
SAVEPOINT before_second;
UPDATE stay SET state = 'arrived' WHERE id = 2;
ROLLBACK TO SAVEPOINT before_second;
--> to savepoint before_second
--> open
RELEASE SAVEPOINT before_first;
COMMIT;
--> committed
SELECT id FROM stay WHERE state = 'arrived' AND id IN (1, 2);
--> value 1
