--# case F051-02 6.1 TIME
SELECT TIME '23:59:59', TIME '08:00:00.250', CAST(NULL AS TIME);
--> rows
-->   '23:59:59' | '08:00:00.25' | NULL
SELECT EXTRACT(SECOND FROM TIME '08:00:00.25');
--> value 0.25
SELECT TIME '24:00:00';
--> fails 22008
--# case F051-02 5.3 hours to 23, minutes and seconds to 59
SELECT TIME '23:59:59', TIME '00:00:00';
--> rows
-->   TIME '23:59:59' | TIME '00:00:00'
--# case F051-02 5.3 no sixtieth minute
SELECT TIME '10:60:00';
--> fails 22008
--# case F051-02 6.35 an interval added to a time goes round
SELECT TIME '23:30:00' + INTERVAL '1' HOUR, TIME '00:10:00' - INTERVAL '20' MINUTE;
--> rows
-->   TIME '00:30:00' | TIME '23:50:00'