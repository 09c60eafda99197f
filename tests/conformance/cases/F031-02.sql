-- F031-02 Basic schema manipulation: CREATE VIEW statement
--# case CREATE VIEW
CREATE VIEW high (code, metres) AS SELECT code, height FROM hut WHERE height > 2000;
SELECT metres FROM high ORDER BY code;
--> rows
-->   2310
-->   2790
CREATE VIEW nothing AS SELECT NULL AS n FROM hut WHERE height IS NULL;
SELECT n FROM nothing;
--> value NULL
CREATE VIEW wrong (a, b) AS SELECT code FROM hut;
--> fails 42601
CREATE VIEW hut AS SELECT 1 AS a;
--> fails 42710
