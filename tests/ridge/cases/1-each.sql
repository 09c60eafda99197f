-- Each kind of expectation, met and not met.
--# let walker = 7
--# let heavy = (SELECT MAX(weight) FROM parcel)
--# let told = CAST(NULL AS VARCHAR(200))

--# case all of it is met, and the title of this case is so long that no pane of any width has room for it in one line, not even the widest
--# tags long met
CALL give_out(:walker, DATE '2030-04-01', 12, :given, :told);
--> value given = 8
--> note 'given: 8'
--> no other notes
--> change carrying +8
--> change yard.log_of_all_that_happened_in_the_yard +1
--> no other change
--> at given given = 8
--> at given 3 p = 9
--> holds :told LIKE '%5%'
-->   AND (SELECT COUNT(*) FROM carrying WHERE walker = :walker) = :given
--> lock table carrying IX
--> open
SELECT * FROM TABLE(the_parcels_that_one_walker_could_carry_down_in_a_day(10)) ORDER BY together;
--> rows
-->   id | weight | together
-->   1  | 0.75   | 0.75
-->   ...  | 2.25 | ...
-->   22  | ... | 5.25
-->   2 | 3 | ...
--> at taken 2 together = 3.0
COMMIT;
--> committed
CALL both_lists();
--> count 3
--> rows of result 2
-->   id
-->   3
-->   6
-->   9
-->   12
-->   15
-->   18
-->   21
-->   24
SELECT AVG(share) FROM carrying;
--> value 0.5 within 0.2
SELECT label FROM parcel WHERE id IN (3, 5) ORDER BY id;
--> rows in any order
-->   'it''''s'
-->   ...

--# case nothing of it is met
--# tags slips
CALL give_out(1, DATE '2030-02-28', 3, ?, ?);
--> value given = 3
--> value told = 'none'
--> note 'given: 4'
--> no notes
--> change carrying +1 ~2 -3
--> change carrying (1, DATE '2030-02-28') share 1 -> 0.75
--> no change
--> never at given
--> at given given = 99
--> holds (SELECT COUNT(*) FROM carrying) = 0 AND NOT EXISTS (SELECT * FROM depot WHERE code = 'N')
--> no locks
--> lock row carrying (1, DATE '2030-02-28') U
--> committed
--> waits for other on parcel (1)
--> to savepoint none
--> wakes other
--> deadlock
--> count 2
SELECT id, label, weight FROM parcel WHERE id < 6 ORDER BY id;
--> rows
-->   id | label | weight
-->   1  | 'lamps and oil' | 0.75
-->   2  | '' | 3
-->   3  | 'a very long label that goes on and on: bread, cheese' | 6.75
SELECT id FROM parcel ORDER BY id;
--> rows include
-->   1
-->   99
--> value 1
--> no rows
--> fails 22012
SELECT levels(3);
--> value 4 within 0.5
ROLLBACK;
--> open

--# case conditions, each where it comes from
SELECT 1 / 0;
--> fails 22012
SELECT levels(600);
--> fails 5B003
UPDATE parcel SET weight = -1 WHERE id = 1;
--> fails 23514 like '%weight_of_a_parcel_in_kilograms%'
INSERT INTO carrying VALUES (1, DATE '2030-03-01', 1, 0.5);
--> fails 23505
CALL give_out(1, DATE '2030-03-01', 100, ?, ?);
--> fails UR001 like '%has a parcel%' in give_out
CALL ask_by_text('nowhere', ?);
--> fails 42704 in ask_by_text
CALL ask_by_text('nothing_yet', ?);
--> fails NOT FOUND
CALL ask_by_text('parcel', ?);
--> fails 02000
CALL ask_by_text('parcel WHERE', ?);
--> fails 42601 like '%nothing of that%'
SELECT FROM WHERE;
--> fails 42601
DELETE FROM depot WHERE code = 'S';
--> fails 23503 line 9

--# case a condition that nobody expects
SELECT 1 / (id - 3) FROM parcel ORDER BY id;
--# case nothing is expected
SELECT CURRENT_TIMESTAMP, NULL AS none, 'x' AS a_name_of_a_column_that_is_much_longer_than_what_stands_below_it, X'00FF10', TRUE;
VALUES (1.50, DATE '2030-01-01', TIME '08:09:10', INTERVAL '3' DAY, 1E100), (2, NULL, NULL, NULL, -1.5E-7);
SELECT ARRAY[1, 2, NULL], ARRAY['a', 'b'], seen, fragile, double_of_its_weight_for_the_way_down FROM parcel WHERE id < 4;
--# case skipped for a while
--# skip the bridge is not there yet
SELECT 1;
--# case a line that is none
SELECT 1;
--> valu 1
--# case of stamps and the clock
--# clock 2031-12-31 23:59:59
--# stamp parcel 5 id = n + 100, label = 'stamped'
--# wait 90s
SELECT COUNT(*), MIN(CURRENT_DATE) FROM parcel WHERE id > 100;
--> rows
-->   5 | DATE '2032-01-01'
SELECT MAX(weight) FROM heavy;
--> value :heavy
