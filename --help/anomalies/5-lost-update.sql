--# case lost update: two read a value, and both write what they made of it
CREATE TABLE item (id INTEGER PRIMARY KEY, v INTEGER);
CREATE TABLE seen_a (v INTEGER);
CREATE TABLE seen_b (v INTEGER);
INSERT INTO item VALUES (1, 100);
COMMIT;
--# session a
INSERT INTO seen_a SELECT v FROM item WHERE id = 1;
--# session b
INSERT INTO seen_b SELECT v FROM item WHERE id = 1;
--# session a
UPDATE item SET v = (SELECT s.v + 10 FROM seen_a s) WHERE id = 1;
--# session b
UPDATE item SET v = (SELECT s.v + 1 FROM seen_b s) WHERE id = 1;
--# session a
COMMIT;
--# session b
COMMIT;
--# session judge
SELECT v <> 100 + (SELECT COUNT(*) FROM seen_a) * 10 + (SELECT COUNT(*) FROM seen_b) FROM item;
