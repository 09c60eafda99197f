-- F312 MERGE statement
--# case MERGE updates what is there and inserts what is not
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
