-- F314 MERGE statement with DELETE branch
--# case MERGE with DELETE
MERGE INTO pair p USING (VALUES (2), (3)) AS n (a) ON p.a = n.a WHEN MATCHED AND p.b IS NULL THEN DELETE WHEN MATCHED THEN UPDATE SET b = 0;
--> change pair ~2 -1
MERGE INTO hut h USING (VALUES ('VARN')) AS n (code) ON h.code = n.code WHEN MATCHED THEN DELETE;
--> fails 23503
MERGE INTO pair p USING pair q ON p.a = q.a WHEN NOT MATCHED THEN DELETE;
--> fails 42601
