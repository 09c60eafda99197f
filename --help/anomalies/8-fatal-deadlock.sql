--# case fatal deadlock: two read a row, both want to change it, and one is rolled back for it
CREATE TABLE item (id INTEGER PRIMARY KEY, v INTEGER);
CREATE TABLE failed (n INTEGER);
INSERT INTO item VALUES (1, 100);
COMMIT;
--# session a
SELECT v FROM item WHERE id = 1;
--# session b
SELECT v FROM item WHERE id = 1;
--# session a
UPDATE item SET v = v + 10 WHERE id = 1;
--# session b
UPDATE item SET v = v + 1 WHERE id = 1;
--# session a
COMMIT;
--# session b
COMMIT;
--# session judge
SELECT v <> 111 FROM item;
