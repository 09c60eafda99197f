-- MERGE in all its branches, and what is refused.
CREATE TABLE stock (item VARCHAR(10) PRIMARY KEY, pieces INTEGER DEFAULT 1 CHECK (pieces >= 0), note VARCHAR(10));
CREATE TABLE delivery (item VARCHAR(10), pieces INTEGER);
INSERT INTO stock VALUES ('rope', 5, NULL), ('map', 2, NULL), ('axe', 1, NULL);
INSERT INTO delivery VALUES ('rope', 3), ('lamp', 4), ('map', -2), ('tent', NULL);
COMMIT;
MERGE INTO stock s USING delivery d ON s.item = d.item
  WHEN MATCHED AND s.pieces + d.pieces = 0 THEN DELETE
  WHEN MATCHED THEN UPDATE SET pieces = s.pieces + d.pieces, note = 'more'
  WHEN NOT MATCHED AND d.pieces IS NOT NULL THEN INSERT (item, pieces) VALUES (d.item, d.pieces)
  WHEN NOT MATCHED THEN INSERT (item) VALUES (d.item);
SELECT * FROM stock ORDER BY item;
ROLLBACK;
MERGE INTO stock USING (SELECT item FROM delivery WHERE pieces > 100) d ON stock.item = d.item WHEN MATCHED THEN DELETE;
MERGE INTO stock USING (VALUES ('rope'), ('rope')) AS v (item) ON stock.item = v.item WHEN MATCHED THEN UPDATE SET pieces = 0;
MERGE INTO stock USING delivery d ON stock.item = d.item WHEN MATCHED THEN UPDATE SET pieces = -1;
MERGE INTO stock USING delivery d ON stock.item = d.item WHEN NOT MATCHED THEN INSERT VALUES (stock.item, 1, 'x');
MERGE INTO stock USING stock ON TRUE WHEN MATCHED THEN DELETE;
MERGE INTO stock USING delivery d ON stock.item = d.item;
CREATE PROCEDURE receive(i VARCHAR(10), n INTEGER, OUT done INTEGER) BEGIN
  MERGE INTO stock s USING (VALUES (i, n)) AS v (item, pieces) ON s.item = v.item
    WHEN MATCHED THEN UPDATE SET pieces = s.pieces + v.pieces WHEN NOT MATCHED THEN INSERT (item, pieces) VALUES (v.item, v.pieces);
  GET DIAGNOSTICS done = ROW_COUNT;
END;
CALL receive('rope', 10, ?); CALL receive('lamp', 1, ?);
SELECT item, pieces FROM stock ORDER BY item;
