--# case F313 14.12 MERGE with several clauses and conditions
MERGE INTO pair p USING (VALUES (1, 5), (2, 6), (50, 7), (51, NULL)) AS n (a, b) ON p.a = n.a
  WHEN MATCHED AND p.b IS NULL THEN UPDATE SET b = n.b
  WHEN MATCHED AND p.b > 15 THEN UPDATE SET b = -n.b
  WHEN NOT MATCHED AND n.b IS NOT NULL THEN INSERT VALUES (n.a, n.b);
--> change pair +1 ~2
SELECT a, b FROM pair WHERE a IN (1, 2, 50) ORDER BY a, b;
--> rows
-->   1 | 10
-->   2 | -6
-->   2 | 6
-->   50 | 7
MERGE INTO pair p USING pair q ON p.a = q.a WHEN MATCHED AND x = 1 THEN DELETE;
--> fails 42703
--# case F313 14.12 the first WHEN whose condition is true is taken
MERGE INTO pair p USING (VALUES (1)) AS n (a) ON p.a = n.a WHEN MATCHED AND p.b > 5 THEN UPDATE SET b = 1 WHEN MATCHED THEN DELETE;
--> change pair ~1