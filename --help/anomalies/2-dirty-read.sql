--# case dirty read: a change is seen that is never committed
CREATE TABLE item (id INTEGER PRIMARY KEY, v INTEGER);
CREATE TABLE seen (v INTEGER);
INSERT INTO item VALUES (1, 0);
COMMIT;
--# session a
UPDATE item SET v = 99 WHERE id = 1;
--# session b
INSERT INTO seen SELECT v FROM item WHERE id = 1;
--# session a
ROLLBACK;
--# session b
COMMIT;
--# session judge
SELECT EXISTS (SELECT 1 FROM seen WHERE v = 99);
