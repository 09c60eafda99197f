-- F051-05 Basic date and time: Explicit CAST between datetime types and character string types
--# case CAST between dates and texts
SELECT CAST(DATE '2031-07-14' AS VARCHAR(10)), CAST('2031-07-14' AS DATE), CAST(' 08:30:00 ' AS TIME), CAST(NULL AS DATE);
--> rows
-->   '2031-07-14' | '2031-07-14' | '08:30:00' | NULL
SELECT CAST(DATE '2031-07-14' AS CHAR(4));
--> fails 22001
SELECT CAST('tomorrow' AS DATE);
--> fails 22007
