--# case dirty write: a change that is not committed is written over
CREATE TABLE item (id INTEGER PRIMARY KEY, v INTEGER, w INTEGER);
INSERT INTO item VALUES (1, 0, 0), (2, 0, 0);
COMMIT;
--# session a
UPDATE item SET v = 1 WHERE id = 1;
--# session b
UPDATE item SET v = 2 WHERE id = 1;
--# session a
UPDATE item SET v = 1 WHERE id = 2;
COMMIT;
--# session b
UPDATE item SET v = 2 WHERE id = 2 AND (SELECT i.v FROM item i WHERE i.id = 1) = 2;
COMMIT;
--# session judge
SELECT (SELECT v FROM item WHERE id = 1) <> (SELECT v FROM item WHERE id = 2);
