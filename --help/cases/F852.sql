--# case F852 11.32 ORDER BY in views
CREATE VIEW ordered AS SELECT name, height FROM hut ORDER BY height DESC NULLS LAST;
SELECT name FROM ordered FETCH FIRST 2 ROWS ONLY;
--> rows
-->   'Selt refuge'
-->   'Kolm hut'
SELECT height FROM ordered WHERE height IS NULL;
--> value NULL
CREATE VIEW wrong AS SELECT name FROM hut ORDER BY z;
--> fails 42703