--# case phantom: a condition read twice in a transaction is met by a new row
CREATE TABLE item (id INTEGER PRIMARY KEY, v INTEGER);
CREATE TABLE seen (n BIGINT);
INSERT INTO item VALUES (1, 5), (2, 50);
COMMIT;
--# session b
INSERT INTO seen SELECT COUNT(*) FROM item WHERE v < 10;
--# session a
INSERT INTO item VALUES (3, 7);
COMMIT;
--# session b
INSERT INTO seen SELECT COUNT(*) FROM item WHERE v < 10;
COMMIT;
--# session judge
SELECT COUNT(DISTINCT n) > 1 FROM seen;
