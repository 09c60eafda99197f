--# case F312 14.12 MERGE updates what is there and inserts what is not
MERGE INTO guest AS g USING (VALUES (101, 'Ilva the elder'), (200, 'Orla')) AS n (id, name) ON g.id = n.id
  WHEN MATCHED THEN UPDATE SET name = n.name
  WHEN NOT MATCHED THEN INSERT (id, name) VALUES (n.id, n.name);
--> change guest +1 ~1
SELECT name, member FROM guest WHERE id = 200;
--> rows
-->   'Orla' | NULL
MERGE INTO guest g USING (VALUES (102), (102)) AS n (id) ON g.id = n.id WHEN MATCHED THEN UPDATE SET name = 'x';
--> fails 21000
MERGE INTO guest g USING (VALUES (NULL)) AS n (id) ON g.id = n.id WHEN NOT MATCHED THEN INSERT VALUES (300, 'null matches none', NULL, NULL);
--> change guest +1
--# case F312 14.12 each row of the target is changed once
MERGE INTO pair p USING (VALUES (3, 1), (3, 2)) AS n (a, b) ON p.a = n.a WHEN MATCHED THEN UPDATE SET b = n.b;
--> fails 21000
--# case F312 14.12 what it inserts is not matched by later rows
MERGE INTO pair p USING (VALUES (50), (50)) AS n (a) ON p.a = n.a WHEN MATCHED THEN UPDATE SET b = -1 WHEN NOT MATCHED THEN INSERT VALUES (n.a, 0);
--> change pair +2
--# case F312 14.12 a condition that is unknown is not matched
MERGE INTO pair p USING (VALUES (1)) AS n (a) ON p.b = n.a AND p.a IS NULL WHEN MATCHED THEN DELETE WHEN NOT MATCHED THEN INSERT VALUES (9, 9);
--> change pair +1
--# case F312 14.12 target and source have names of their own
MERGE INTO pair USING pair ON TRUE WHEN MATCHED THEN DELETE;
--> fails 42701