--# setup
CREATE TABLE k (kind VARCHAR(20), n INTEGER, note VARCHAR(60), "a ""(b" INTEGER, PRIMARY KEY (kind, n));
INSERT INTO k VALUES ('5"', 90, '(', 1), ('")', 91, '[', NULL), ('->', 92, '->', 3);
COMMIT;
--# case signs of the lines themselves within texts
VALUES ('5"', 1), ('a|"', 3), ('''"', 4), ('[|', 6);
--> rows
-->   '5"'  | 1
-->   'a|"' | 3
-->   '''"' | 4
-->   '[|'  | 6
CALL note('5" | (');
--> note '5" | ('
UPDATE k SET note = '"' || note, "a ""(b" = 2 WHERE n = 90;
--> change k ('5"', 90) note '(' -> '"('
--> change k ('5"', 90) "a ""(b" 1 -> 2
--> lock row k ('5"', 90) X
UPDATE k SET note = '-> "' || note WHERE n = 91;
--> change k ('")', 91) note '[' -> '-> "['
--# session b
DELETE FROM k WHERE n = 90;
--> waits for main on k ('5"', 90)
--# session main
ROLLBACK;
--> wakes b
--# case the same, and none is met
VALUES ('5"', 1), ('a|"', 3);
--> rows
-->   '5"' | 1
-->   'a|' | 3
CALL note('5" | (');
--> note '5" | )'
UPDATE k SET note = '"' || note WHERE n = 90;
--> change k ('5"', 90) note '(' -> '"'
--> change k ('")', 90) note '(' -> '"('
--> lock row k ('"', 90) X
--> no other change
CALL note('it''s ' || U&'\0007');
--> note 'its'
--> no other notes
