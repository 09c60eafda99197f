--# case one name in three places
SELECT happened('%'), yard.happened('%');
--> rows
-->   100 | 0
CALL walkers.happened(2, ?);
--> value 12
--> at asked n = 12
--> at walkers.happened.asked n = 12
--> at happened.asked n = 12
CALL walkers.happened(7, ?);
--> fails UR002 in walkers.happened at walkers.happened.asked
CALL walkers.happened(7, ?);
--> fails UR002 in happened at asked
CALL walkers.happened(7, ?);
--> fails UR002 in yard.happened
--# case a waymark that there is not
CALL walkers.happened(7, ?);
--> fails UR002 at yard.happened.asked
