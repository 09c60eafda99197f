--# case read skew: two rows that belong together are read from before and after a change of both
CREATE TABLE item (id INTEGER PRIMARY KEY, v INTEGER);
CREATE TABLE seen (v INTEGER);
INSERT INTO item VALUES (1, 50), (2, 50);
COMMIT;
--# session b
INSERT INTO seen SELECT v FROM item WHERE id = 1;
--# session a
UPDATE item SET v = 25 WHERE id = 1;
UPDATE item SET v = 75 WHERE id = 2;
COMMIT;
--# session b
INSERT INTO seen SELECT v FROM item WHERE id = 2;
COMMIT;
--# session judge
SELECT COALESCE(SUM(v), 100) <> 100 AND COUNT(*) = 2 FROM seen;
