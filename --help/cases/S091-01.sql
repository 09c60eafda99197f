--# case S091-01 6.42 arrays of built-in types in tables, variables and parameters
CREATE FUNCTION total(n INTEGER ARRAY[10]) RETURNS INTEGER BEGIN
  DECLARE i, sum INTEGER DEFAULT 0;
  WHILE i < CARDINALITY(n) DO SET i = i + 1; SET sum = sum + COALESCE(n[i], 0); END WHILE;
  RETURN sum;
END;
SELECT total(ARRAY[1, NULL, 3]), total(ARRAY[]), total(NULL);
--> rows
-->   4 | 0 | 0
CREATE FUNCTION squares(n INTEGER) RETURNS INTEGER ARRAY[9] BEGIN
  DECLARE a INTEGER ARRAY[9] DEFAULT ARRAY[];
  DECLARE i INTEGER DEFAULT 0;
  WHILE i < n DO SET i = i + 1; SET a[i] = i * i; END WHILE;
  RETURN a;
END;
SELECT squares(4);
--> value ARRAY[1, 4, 9, 16]
SELECT squares(10);
--> fails 2202E
SELECT total(ARRAY['x']);
--> fails 42884
--# case S091-01 6.24 an element beyond the end is 2202E, of NULL NULL
SELECT ARRAY[1, 2, 3][2], CARDINALITY(ARRAY[1, NULL]), CAST(NULL AS INTEGER ARRAY)[1];
--> rows
-->   2 | 2 | NULL
--# case S091-01 6.24 element nought
SELECT ARRAY[1, 2][0];
--> fails 2202E