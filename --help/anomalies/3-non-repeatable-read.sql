--# case non-repeatable read: a row read twice in a transaction has changed between
CREATE TABLE item (id INTEGER PRIMARY KEY, v INTEGER);
CREATE TABLE seen (v INTEGER);
INSERT INTO item VALUES (1, 0);
COMMIT;
--# session b
INSERT INTO seen SELECT v FROM item WHERE id = 1;
--# session a
UPDATE item SET v = 1 WHERE id = 1;
COMMIT;
--# session b
INSERT INTO seen SELECT v FROM item WHERE id = 1;
COMMIT;
--# session judge
SELECT COUNT(DISTINCT v) > 1 FROM seen;
