-- E153 Updatable queries with subqueries
--# case a view whose query has a subquery can be changed
CREATE VIEW cheap AS SELECT id, price FROM stay WHERE price < (SELECT AVG(price) FROM stay);
UPDATE cheap SET price = price + 1;
--> change stay ~3
DELETE FROM cheap WHERE price IS NULL;
--> no change
INSERT INTO cheap VALUES (30, 5);
--> fails 23502
CREATE VIEW totals AS SELECT hut, SUM(price) AS total FROM stay GROUP BY hut;
DELETE FROM totals;
--> fails 42807
