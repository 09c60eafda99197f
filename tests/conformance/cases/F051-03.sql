-- F051-03 Basic date and time: TIMESTAMP data type (including support of TIMESTAMP literal) with fractional seconds precision of at least 0 and 6
--# case TIMESTAMP
SELECT TIMESTAMP '2031-07-14 08:30:00', TIMESTAMP '2031-07-14 08:30:00.123456', CAST(NULL AS TIMESTAMP);
--> rows
-->   '2031-07-14 08:30:00' | '2031-07-14 08:30:00.123456' | NULL
SELECT TIMESTAMP '2031-07-14 25:00:00';
--> fails 22008
SELECT TIMESTAMP 'soon';
--> fails 22007
