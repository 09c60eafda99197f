--# case F555 6.1 seconds with digits behind the point
SELECT TIME '08:00:00.123456', TIMESTAMP '2031-07-14 08:00:00.000001', INTERVAL '1.5' SECOND;
--> rows
-->   '08:00:00.123456' | '2031-07-14 08:00:00.000001' | '1.5'
SELECT EXTRACT(SECOND FROM TIMESTAMP '2031-07-14 08:00:59.25'), CAST(NULL AS TIME(6));
--> rows
-->   59.25 | NULL
SELECT TIME '08:00:61.5';
--> fails 22008
--# case F555 6.1 digits of the second that a type has
CREATE TABLE moments (a TIME, b TIME(3), c TIMESTAMP, d TIMESTAMP(0));
INSERT INTO moments VALUES (TIME '10:11:12.9', TIME '10:11:12.98765', TIMESTAMP '2031-01-01 00:00:00.123456', TIMESTAMP '2031-01-01 00:00:00.9');
SELECT * FROM moments;
--> rows
-->   TIME '10:11:12' | TIME '10:11:12.987' | TIMESTAMP '2031-01-01 00:00:00.123456' | TIMESTAMP '2031-01-01 00:00:00'
SELECT CAST(b AS VARCHAR(20)), CAST(c AS TIME(2)), d - INTERVAL '0.25' SECOND, CAST('10:11:12.55' AS TIME(1)) FROM moments;
--> rows
-->   '10:11:12.987' | TIME '00:00:00.12' | TIMESTAMP '2030-12-31 23:59:59.75' | TIME '10:11:12.5'
SELECT datetime_precision FROM information_schema.columns WHERE table_name = 'moments' ORDER BY ordinal_position;
--> rows
-->   0
-->   3
-->   6
-->   0
SELECT CAST(NULL AS TIMESTAMP(7));
--> fails 42601