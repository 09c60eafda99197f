--# case F051-04 8.2 dates and times are compared
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
--# case F051-04 8.2 dates and times compare in time
SELECT DATE '2030-12-31' < DATE '2031-01-01', TIME '09:00:00' > TIME '08:59:59.9', TIMESTAMP '2031-01-01 00:00:00' < TIMESTAMP '2031-01-01 00:00:00.000001';
--> rows
-->   TRUE | TRUE | TRUE
--# case F051-04 8.2 intervals of one class compare by their length
SELECT INTERVAL '1' DAY = INTERVAL '24' HOUR, INTERVAL '13' MONTH > INTERVAL '1' YEAR, INTERVAL '-1' DAY < INTERVAL '0' DAY;
--> rows
-->   TRUE | TRUE | TRUE
--# case F051-04 8.2 intervals of two classes do not
SELECT INTERVAL '30' DAY = INTERVAL '1' MONTH;
--> fails 42804