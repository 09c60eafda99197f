-- T173 Extended LIKE clause in table definition
--# case LIKE with INCLUDING
CREATE TABLE t (id INTEGER GENERATED ALWAYS AS IDENTITY, n INTEGER DEFAULT 5, twice INTEGER GENERATED ALWAYS AS (n * 2));
CREATE TABLE full_copy (LIKE t INCLUDING IDENTITY INCLUDING DEFAULTS INCLUDING GENERATED);
CREATE TABLE bare_copy (LIKE t EXCLUDING IDENTITY);
INSERT INTO full_copy (n) VALUES (DEFAULT), (NULL);
SELECT id, n, twice FROM full_copy ORDER BY id;
--> rows
-->   1 | 5 | 10
-->   2 | NULL | NULL
INSERT INTO bare_copy (id, n, twice) VALUES (7, DEFAULT, 1);
SELECT id, n, twice FROM bare_copy;
--> rows
-->   7 | NULL | 1
INSERT INTO full_copy (id) VALUES (3);
--> fails 428C9
CREATE TABLE x (LIKE t INCLUDING EVERYTHING);
--> fails 42601
