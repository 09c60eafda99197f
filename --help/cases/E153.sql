--# case E153 11.32 a view whose query has a subquery can be changed
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
--# case E153 7.17 a column that is computed cannot be set, the others can
CREATE VIEW v AS SELECT id, price, price * 2 AS twice FROM stay;
UPDATE v SET price = 1 WHERE id = 1;
--> change stay ~1
UPDATE v SET twice = 1;
--> fails 42807
--# case E153 14.14 a view over renamed columns changes those of the table
CREATE VIEW v AS SELECT x, y FROM pair AS p (x, y) WHERE x > 1;
UPDATE v SET y = 77 WHERE x = 3;
--> change pair ~1
SELECT a FROM pair WHERE b = 77;
--> value 3
INSERT INTO v VALUES (8, 88);
SELECT b FROM pair WHERE a = 8;
--> value 88
--# case E153 14.14 what a view computes can be asked for in WHERE
CREATE VIEW v AS SELECT a, b, a + b AS total FROM pair;
UPDATE v SET b = 0 WHERE total = 13;
--> change pair ~1
DELETE FROM v WHERE total = 3;
--> change pair -1