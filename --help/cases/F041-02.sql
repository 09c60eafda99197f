--# case F041-02 7.10 the word INNER
SELECT COUNT(*) FROM pair p INNER JOIN pair q ON p.a = q.a;
--> value 6
SELECT COUNT(*) FROM pair p INNER JOIN pair q ON NULL;
--> value 0
SELECT 1 FROM pair p INNER JOIN nothing q ON p.a = q.a;
--> fails 42704