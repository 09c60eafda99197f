--# case F314 14.12 MERGE with DELETE
MERGE INTO pair p USING (VALUES (2), (3)) AS n (a) ON p.a = n.a WHEN MATCHED AND p.b IS NULL THEN DELETE WHEN MATCHED THEN UPDATE SET b = 0;
--> change pair ~2 -1
MERGE INTO hut h USING (VALUES ('VARN')) AS n (code) ON h.code = n.code WHEN MATCHED THEN DELETE;
--> fails 23503
MERGE INTO pair p USING pair q ON p.a = q.a WHEN NOT MATCHED THEN DELETE;
--> fails 42601
--# case F314 14.12 a deleted row cannot be updated by the same MERGE
MERGE INTO pair p USING (VALUES (1, 'd'), (1, 'u')) AS n (a, w) ON p.a = n.a WHEN MATCHED AND n.w = 'd' THEN DELETE WHEN MATCHED THEN UPDATE SET b = 0;
--> fails 21000
--# case F314 14.12 DELETE in MERGE cascades and fires
CREATE TABLE p (id INTEGER PRIMARY KEY);
CREATE TABLE c (p INTEGER REFERENCES p ON DELETE CASCADE);
CREATE TRIGGER t AFTER DELETE ON p REFERENCING OLD AS o FOR EACH ROW CALL note('gone ' || CAST(o.id AS VARCHAR(3)));
INSERT INTO p VALUES (1), (2);
INSERT INTO c VALUES (1), (2);
MERGE INTO p USING (VALUES (2)) AS n (id) ON p.id = n.id WHEN MATCHED THEN DELETE;
--> note 'gone 2'
--> change c -1