-- F051-02 Basic date and time: TIME data type (including support of TIME literal) with fractional seconds precision of at least 0
--# case TIME
SELECT TIME '23:59:59', TIME '08:00:00.250', CAST(NULL AS TIME);
--> rows
-->   '23:59:59' | '08:00:00.25' | NULL
SELECT EXTRACT(SECOND FROM TIME '08:00:00.25');
--> value 0.25
SELECT TIME '24:00:00';
--> fails 22008
