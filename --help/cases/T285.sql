--# case T285 7.16 names of derived columns
SELECT UPPER(name), COUNT(*), CAST(height AS VARCHAR(9)) FROM hut WHERE code = 'VARN' GROUP BY name, height;
--> rows
-->   upper | count | height
-->   'VARN HUT' | 1 | '1840'
SELECT upper FROM (SELECT UPPER(NULL) FROM hut WHERE code = 'VARN') d;
--> value NULL
SELECT name FROM (SELECT UPPER(name) FROM hut) d;
--> fails 42703
--# case T285 7.16 a column without a name is named by what made it
SELECT MAX(a), a + 1 FROM pair WHERE a = 1 GROUP BY a;
--> rows
-->   1 | 2