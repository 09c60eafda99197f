-- F555 Enhanced seconds precision
--# case seconds with digits behind the point
SELECT TIME '08:00:00.123456', TIMESTAMP '2031-07-14 08:00:00.000001', INTERVAL '1.5' SECOND;
--> rows
-->   '08:00:00.123456' | '2031-07-14 08:00:00.000001' | '1.5'
SELECT EXTRACT(SECOND FROM TIMESTAMP '2031-07-14 08:00:59.25'), CAST(NULL AS TIME(6));
--> rows
-->   59.25 | NULL
SELECT TIME '08:00:61.5';
--> fails 22008
