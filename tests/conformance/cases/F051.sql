-- F051 Basic date and time
--# case dates and times together
SELECT CAST(TIMESTAMP '2031-07-14 08:30:00' AS DATE) = DATE '2031-07-14', TIME '08:30:00' < TIME '09:00:00';
--> rows
-->   TRUE | TRUE
SELECT DATE '2031-02-30';
--> fails 22008
