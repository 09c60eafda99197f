--# case F031-02 11.32 CREATE VIEW
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
--# case F031-02 11.32 an asterisk is the columns of the time when the view was made
CREATE VIEW v AS SELECT * FROM pair;
ALTER TABLE pair ADD COLUMN c INTEGER;
SELECT * FROM v WHERE a = 1;
--> rows
-->   1 | 10
--# case F031-02 11.32 two columns of one name need names
CREATE VIEW v AS SELECT a, a FROM pair;
--> fails 42701
--# case F031-02 11.32 a view does not take parameters
CREATE VIEW v AS SELECT a FROM pair WHERE a = ?;
--> fails 42601