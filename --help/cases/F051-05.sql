--# case F051-05 6.13 CAST between dates and texts
SELECT CAST(DATE '2031-07-14' AS VARCHAR(10)), CAST('2031-07-14' AS DATE), CAST(' 08:30:00 ' AS TIME), CAST(NULL AS DATE);
--> rows
-->   '2031-07-14' | '2031-07-14' | '08:30:00' | NULL
SELECT CAST(DATE '2031-07-14' AS CHAR(4));
--> fails 22001
SELECT CAST('tomorrow' AS DATE);
--> fails 22007
--# case F051-05 6.13 a timestamp to a date loses its time, to a time its date
SELECT CAST(TIMESTAMP '2031-07-14 23:59:59' AS DATE), CAST(TIMESTAMP '2031-07-14 23:59:59' AS TIME), CAST(DATE '2031-07-14' AS TIMESTAMP);
--> rows
-->   DATE '2031-07-14' | TIME '23:59:59' | TIMESTAMP '2031-07-14 00:00:00'
--# case F051-05 6.13 a time to a timestamp takes the date of today
--# clock 2031-07-14 10:00:00
SELECT CAST(TIME '08:00:00' AS TIMESTAMP);
--> value TIMESTAMP '2031-07-14 08:00:00'
--# case F051-05 6.13 to a text and back
SELECT CAST(CAST(TIMESTAMP '2031-07-14 08:05:09' AS VARCHAR(30)) AS TIMESTAMP), CAST(INTERVAL '2-3' YEAR TO MONTH AS VARCHAR(9));
--> rows
-->   TIMESTAMP '2031-07-14 08:05:09' | '2-03'
--# case F051-05 6.13 a date is no number, a number no date
SELECT CAST(20310714 AS DATE);
--> fails 42804
--# case F051-05 6.13 an impossible date in a text is 22008 or 22007
SELECT CAST('2031-02-30' AS DATE);
--> fails 22008