--# case F052 6.35 intervals and arithmetic with dates
SELECT DATE '2031-07-14' + INTERVAL '3' DAY, TIMESTAMP '2031-07-14 22:00:00' + INTERVAL '2:30' HOUR TO MINUTE, DATE '2031-01-31' - INTERVAL '1' MONTH;
--> rows
-->   '2031-07-17' | '2031-07-15 00:30:00' | '2030-12-31'
SELECT (DATE '2031-07-14' - DATE '2031-07-01') DAY, (TIMESTAMP '2031-07-14 10:00:00' - TIMESTAMP '2031-07-13 09:30:00') DAY TO MINUTE, (DATE '2031-07-14' - DATE '2029-06-15') YEAR TO MONTH;
--> rows
-->   '13' | '1 00:30' | '2-00'
SELECT INTERVAL '1-6' YEAR TO MONTH * 2, INTERVAL '90' MINUTE / 2, -INTERVAL '1' DAY, EXTRACT(HOUR FROM INTERVAL '2 05:00' DAY TO MINUTE), ABS(INTERVAL '-3' DAY);
--> rows
-->   '3-00' | '45' | '-1' | 5 | '3'
SELECT INTERVAL '3' DAY + NULL, INTERVAL '24' HOUR = INTERVAL '1' DAY;
--> rows
-->   NULL | TRUE
SELECT INTERVAL '1' MONTH + INTERVAL '1' DAY;
--> fails 42804
SELECT DATE '2031-01-31' + INTERVAL '1' MONTH;
--> fails 22008
SELECT INTERVAL 'soon' DAY;
--> fails 22007
--# case F052 6.35 date minus date is days, with a field an interval of it
SELECT DATE '2031-03-01' - DATE '2031-02-28', (TIMESTAMP '2031-01-02 00:00:00' - TIMESTAMP '2031-01-01 23:00:00') HOUR;
--> rows
-->   1 | INTERVAL '1' HOUR
--# case F052 6.35 months are added without changing the day, and must have it
SELECT DATE '2031-01-31' + INTERVAL '2' MONTH, DATE '2031-03-31' - INTERVAL '1' YEAR;
--> rows
-->   DATE '2031-03-31' | DATE '2030-03-31'
--# case F052 6.35 an interval of days and hours to a timestamp
SELECT TIMESTAMP '2031-02-28 23:30:00' + INTERVAL '1 00:45' DAY TO MINUTE;
--> value TIMESTAMP '2031-03-02 00:15:00'
--# case F052 6.37 intervals are added, and multiplied and divided by numbers
SELECT INTERVAL '1' DAY + INTERVAL '12' HOUR, INTERVAL '1-1' YEAR TO MONTH * 3, 2 * INTERVAL '5' SECOND, INTERVAL '7' DAY / 2;
--> rows
-->   INTERVAL '1 12' DAY TO HOUR | INTERVAL '3-3' YEAR TO MONTH | INTERVAL '10' SECOND | INTERVAL '3' DAY
--# case F052 6.37 an interval divided by nought is 22012
SELECT INTERVAL '1' DAY / 0;
--> fails 22012
--# case F052 6.37 with more digits more
SELECT CAST('100' AS INTERVAL DAY(3)), INTERVAL '100' DAY(3) + INTERVAL '1' DAY;
--> rows
-->   INTERVAL '100' DAY(3) | INTERVAL '101' DAY(3)
--# case F052 6.38 ABS of an interval
SELECT ABS(INTERVAL '-2' DAY), ABS(INTERVAL '-1-2' YEAR TO MONTH);
--> rows
-->   INTERVAL '2' DAY | INTERVAL '1-2' YEAR TO MONTH
--# case F052 6.30 EXTRACT of the fields that there are
SELECT EXTRACT(YEAR FROM DATE '2031-07-14'), EXTRACT(MONTH FROM DATE '2031-07-14'), EXTRACT(DAY FROM DATE '2031-07-14'), EXTRACT(MINUTE FROM TIME '10:11:12'), EXTRACT(DAY FROM INTERVAL '3 04' DAY TO HOUR), EXTRACT(HOUR FROM INTERVAL '-3 04' DAY TO HOUR);
--> rows
-->   2031 | 7 | 14 | 11 | 3 | -4
--# case F052 6.30 EXTRACT of a field that is not there is refused
SELECT EXTRACT(HOUR FROM DATE '2031-07-14');
--> fails 42884
--# case F052 6.35 NULL on either side
SELECT DATE '2031-01-01' + CAST(NULL AS INTERVAL DAY), NULL - DATE '2031-01-01', EXTRACT(YEAR FROM CAST(NULL AS DATE));
--> rows
-->   NULL | NULL | NULL
--# case F052 6.35 an interval before the date is added too, but not taken away
SELECT INTERVAL '1' DAY + DATE '2031-01-01';
--> value DATE '2031-01-02'
--# case F052 6.35 a date is not taken from an interval
SELECT INTERVAL '1' DAY - DATE '2031-01-01';
--> fails 42804
--# case F052 6.35 dates are not added to one another
SELECT DATE '2031-01-01' + DATE '2031-01-01';
--> fails 42804
--# case F052 6.35 beyond the last year is 22008
SELECT DATE '9999-12-31' + INTERVAL '1' DAY;
--> fails 22008
--# case F052 6.13 an interval as a text
SELECT CAST(INTERVAL '1.50' SECOND AS VARCHAR(20)), CAST(INTERVAL '1 02:03:04.5' DAY TO SECOND AS VARCHAR(20)), CAST(INTERVAL '-1:30' HOUR TO MINUTE AS VARCHAR(20));
--> rows
-->   '1.5' | '1 02:03:04.5' | '-1:30'