-- Gear on loan: a swallowed exception, a deadlock, and patience.
--# fixture valley

--# case the swallowed exception: the stock is less, the loan is not there, nothing is committed
CALL lend_gear(1, 999, DATE '2031-07-14', ?);
--> value loan_id = NULL
--> note 'not lent: guest has no row for guest 999 of loan (loan_guest_fk)'
--> change gear (1) stock 6 -> 5
--> open
SELECT COUNT(*) FROM loan WHERE guest = 999;
--> value 0
ROLLBACK;
SELECT stock FROM gear WHERE id = 1;
--> value 6

--# case lending down to an empty shelf
UPDATE gear SET stock = 1 WHERE id = 2;
CALL lend_gear(2, 104, DATE '2031-07-14', ?);
--> change gear (2) stock 1 -> 0
--> change loan +1
CALL lend_gear(2, 104, DATE '2031-07-14', ?);
--> fails 23514 in lend_gear
--> no change
ROLLBACK;

--# case gear comes back once
CALL return_gear(3, DATE '2031-07-20', ?);
--> value days_kept = 6
--> change loan ~1
--> change gear ~1
CALL return_gear(3, DATE '2031-07-20', ?);
--> fails UH004 like 'no open loan 3'
ROLLBACK;

--# case two clerks move gear in opposite directions
--# tags locks deadlock
--# session upper
UPDATE gear SET stock = stock - 1 WHERE id = 1;
--> lock row gear (1) X
--# session lower
UPDATE gear SET stock = stock - 1 WHERE id = 3;
--> lock row gear (3) X
--# session upper
UPDATE gear SET stock = stock + 1 WHERE id = 3;
--> waits for lower on gear (3)
--# session lower
CALL move_gear(2, 1, 1);
--> deadlock
--> fails 40001 in move_gear
--> rolled back
--> wakes upper
--# session upper
--> change gear (3) stock 4 -> 5
COMMIT;
--> committed
SELECT id, stock FROM gear WHERE id <= 3 ORDER BY id;
--> rows
-->   id | stock
-->   1  | 5
-->   2  | 3
-->   3  | 5

--# case patience runs out
--# tags locks
--# session desk
UPDATE gear SET stock = 0 WHERE id = 4;
--# session phone patience 5s
UPDATE gear SET stock = 9 WHERE id = 4;
--> waits for desk on gear (4)
--# wait 4s
--# wait 2s
--# session phone
--> fails 5L002
--> no change
--# session desk
ROLLBACK;
