-- F051-04 Basic date and time: Comparison predicate on DATE, TIME, and TIMESTAMP data types
--# case dates and times are compared
SELECT id FROM stay WHERE night BETWEEN DATE '2031-07-15' AND DATE '2031-07-31' ORDER BY id;
--> rows
-->   3
-->   4
SELECT TIME '08:00:00' < NULL, TIMESTAMP '2031-01-01 00:00:00' = CAST(DATE '2031-01-01' AS TIMESTAMP);
--> rows
-->   NULL | TRUE
SELECT TIMESTAMP '2031-01-01 00:00:00' = DATE '2031-01-01';
--> fails 42804
SELECT DATE '2031-01-01' < TIME '08:00:00';
--> fails 42804
