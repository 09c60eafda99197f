--# case an unknown arranging line
--# sesion desk
SELECT 1;
--# case an expectation that is none
SELECT 1;
--> vlaue 1
--# case an expectation with no statement

--> value 1
--# case a value that is no literal
SELECT 1;
--> value 1 +
--> value now
--> count many
--# case an unknown fixture
--# fixture nowhere
SELECT 1;
--# case a broken statement, and one behind it
SELECT FROM;
SELECT 2;
--> value 2
--# case rows that are missing
SELECT 1;
--> rows
--# case rows of another width
SELECT 1, 2;
--> rows
-->   1 | 2
-->   1
--# case a lock without a mode
SELECT 1;
--> lock row bunk (3)
--> lock page bunk (3) X
--> waits desk
--> change bunk (3) state 'a' 'b'
--> change bunk *1
--> fails
--# case an expectation inside a statement
SELECT
--> value 1
1;
--# case settings of a session
--# session a isolation nothing
--# session b patience long
--# session c colour blue
--# wait 5 parsecs
--# clock yesterday
--# model paper
SELECT 1;
--# case expressions that are none
--# let n = 1 +
--# let m = (SELECT 1 FROM)
--# stamp bunk 3 id = n +
SELECT 1;
--# case several cells
SELECT 1, 2;
--> value 1 | 2
--# case this one is right
SELECT 1;
--> value 1
--# case this one is skipped
--# skip until the roof is mended
SELECT 1 / 0;
--# case a model without a name
--# model
SELECT 1;
--# case a condition that is none
SELECT 1 AS n;
--> holds (SELECT n FROM result) = 1 AND nowhere.x = = 2
--> holds (SELECT n FROM result) = 1 AND nothing > 2
