-- Two sessions and the last bunk, and what a group gets.
--# fixture valley

--# case the last free bunk goes to one guest only
--# tags locks
--# session desk
CALL book_bunk(hut => 'VARN', night => DATE '2031-07-14', guest => 104);
--> note 'bunk 3 held'
--> change stay +1
--> change bunk (3) state 'free' -> 'held'
--> lock row bunk (3) X
--> open

--# session phone
CALL book_bunk('VARN', DATE '2031-07-14', 211);
--> waits for desk on bunk (3)

--# session desk
COMMIT;
--> committed
--> wakes phone

--# session phone
--> fails UH001 like '%no free bunk%' in book_bunk
ROLLBACK;
--> rolled back
--> no locks

--# case the other one gets the bunk when the first gives up
--# tags locks
--# session desk
CALL book_bunk('VARN', DATE '2031-07-14', 104);
--> change stay +1
--# session phone
CALL book_bunk('VARN', DATE '2031-07-14', 211);
--> waits for desk on bunk (3)
--# session desk
ROLLBACK;
--> rolled back
--> wakes phone
--# session phone
--> note 'bunk 3 held'
--> change stay +1
COMMIT;
--> committed
SELECT guest FROM stay WHERE bunk = 3 AND night = DATE '2031-07-14';
--> value 211

--# case free bunks of a night
SELECT * FROM TABLE(free_bunks('VARN', DATE '2031-07-15')) ORDER BY bunk_no;
--> rows
-->   bunk_no | room
-->   1       | 'south'
-->   4       | 'loft'
SELECT * FROM TABLE(free_bunks('NONE', DATE '2031-07-15'));
--> no rows

--# case a group: two get a bunk, the third is turned away and takes nothing with him
--# tags savepoint
CALL book_group('VARN', DATE '2031-07-15', 120, 3, ?, ?);
--> value booked = 2
--> value turned_away = 1
--> change stay +2
--> change bunk ~2
--> to savepoint this_guest
--> open
SELECT bunk, guest FROM stay WHERE night = DATE '2031-07-15' AND guest BETWEEN 120 AND 122 ORDER BY bunk;
--> rows
-->   bunk | guest
-->   1    | 120
-->   4    | 121
ROLLBACK;

--# case occupancy of a week-end
SELECT * FROM TABLE(occupancy('VARN', DATE '2031-07-14', DATE '2031-07-16')) ORDER BY night;
--> rows
-->   night             | taken | bunks
-->   DATE '2031-07-14' | 2     | 3
-->   DATE '2031-07-15' | 1     | 3
-->   DATE '2031-07-16' | 0     | 3
--> holds (SELECT MAX(taken) FROM result) <= (SELECT MIN(bunks) FROM result)
