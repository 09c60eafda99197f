-- T611 Elementary OLAP operations
--# case row numbers, ranks and sums over windows
SELECT id, ROW_NUMBER() OVER (ORDER BY price DESC NULLS LAST, id), RANK() OVER (ORDER BY price DESC NULLS LAST), DENSE_RANK() OVER (ORDER BY price DESC NULLS LAST) FROM stay ORDER BY id;
--> rows
-->   1 | 2 | 2 | 2
-->   2 | 1 | 1 | 1
-->   3 | 3 | 3 | 3
-->   4 | 4 | 3 | 3
-->   5 | 6 | 6 | 4
-->   6 | 5 | 3 | 3
SELECT id, SUM(price) OVER (PARTITION BY hut ORDER BY id) FROM stay ORDER BY id;
--> rows
-->   1 | 31.50
-->   2 | 73.50
-->   3 | 28.00
-->   4 | 56.00
-->   5 | NULL
-->   6 | 84.00
SELECT RANK() OVER () FROM stay;
--> fails 42601
SELECT a FROM pair WHERE ROW_NUMBER() OVER (ORDER BY a) = 1;
--> fails 42601
