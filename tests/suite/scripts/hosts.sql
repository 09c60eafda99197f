--# let base = 10
--# let day = DATE '2031-07-14'
--# setup
CREATE TABLE hut (id INTEGER PRIMARY KEY, price DECIMAL(6,2), name VARCHAR(10), opens DATE);
INSERT INTO hut VALUES (1, 2.50, 'north', DATE '2031-07-14'), (2, NULL, 'east', NULL), (3, 4, 'south', NULL);
CREATE PROCEDURE tally (IN n INTEGER, OUT total INTEGER, INOUT word VARCHAR(20))
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  --@ begun
  SET total = 0;
  WHILE i < n DO
    SET i = i + 1; --@ round
    SET total = total + i;
    IF total > 5 THEN
      --@ much
      SIGNAL SQLSTATE '45001' SET MESSAGE_TEXT = 'too much';
      --@ behind
    END IF;
  END WHILE;
  SET word = word || '!';
  --@ done
  CALL note('one'); CALL note('two');
END;
COMMIT;
--# case values travel from statement to statement
--# let word = 'hey'
CALL tally(2, :sum, :word);
--> value total = 3
--> holds :sum = 3 AND :word = 'hey!' AND total = :sum
SELECT id INTO :id FROM hut WHERE name = 'south';
--> holds :id = 3
SELECT id INTO :id FROM hut WHERE name = 'nowhere';
--> fails not found
--> holds :id = 3
SELECT price * :sum FROM hut WHERE id = :id AND :day = (SELECT opens FROM hut WHERE id = 1);
--> value 4 * :sum
--> value :base + 2
SET (:id, :sum) = (:sum + 1, :id);
SELECT :id, :sum;
--> rows
-->   4 | 3
BEGIN
  DECLARE x INTEGER DEFAULT 0;
  WHILE x < 3 DO SET x = x + 1; SET :word = :word || '?'; SET :id = :id + x; END WHILE;
END;
--> holds :word = 'hey!???' AND :id = 10
ROLLBACK;
SELECT :word;
--> value 'hey!???'
--# case they are those of one case
SELECT :word;
--> fails 42703
SELECT :base;
--> value 10
CREATE VIEW v AS SELECT :base AS b;
--> fails 42601
--# case waymarks
CALL tally(3, ?, 'w');
--> fails 45001
CALL tally(3, :t, :w);
--> fails 42703
--# case waymarks are looked at
--# let w = 'w'
CALL tally(2, ?, :w);
--> at begun total = NULL
--> at round i = 2
--> at tally.round 1 i = 1
--> at round 2 total = :base - 9
--> at done word = 'w!'
--> never at much
CALL tally(9, ?, :w);
--> fails 45001 like 'too%' in tally at much line 16
--> fails 45001 at much
--> at much total = 6
--> never at behind
--> never at done
--# case waymarks that slip
--# let w = 'w'
CALL tally(2, ?, :w);
--> at round i = 3
--> at round 7 i = 3
--> at much i = 3
--> at round nothing = 3
--> never at round
CALL tally(9, ?, :w);
--> fails 45001 at round
--> fails 45001 line 1
--# case a waymark that there is not
CALL tally(1, ?, 'w');
--> never at dnoe
--# case no other
UPDATE hut SET price = 5, name = name || '' WHERE id = 1;
--> change hut (1) price 2.5 -> :base / 2
--> no other change
UPDATE hut SET price = 6 WHERE id > 1;
--> change hut (2) price NULL -> 6
--> change hut (3) price 4 -> 6.00
--> no other change
INSERT INTO hut VALUES (7, 1, 'x', NULL);
--> change hut +1
--> no other change
--> lock row hut (7) X
CALL note('a');
--> note 'a'
--> no other notes
ROLLBACK;
--> no other locks
--# case another
UPDATE hut SET price = 5, name = 'n' WHERE id = 1;
--> change hut (1) price 2.5 -> 5
--> no other change
BEGIN CALL note('a'); CALL note('a'); END;
--> note 'a'
--> no other notes
UPDATE hut SET price = 5 WHERE id = 3;
--> lock row hut (3) X
--> no other locks
--# case cells that may be anything, and nearly
SELECT * FROM hut ORDER BY id;
--> rows within 0.01
-->   1 | 2.509 | ... | ...
-->   2 | NULL  | 'ea' || 'st' | NULL
-->   1 + 2 | ... | 'south' | NULL
SELECT id, name FROM hut;
--> rows in any order
-->   ... | ...
-->   2   | ...
-->   ... | 'south'
--> rows include
-->   ... | 'north'
--> rows in any order within 1
-->   2 | ...
-->   1 | ...
-->   2 | ...
SELECT id FROM hut;
--> rows in any order
-->   ...
-->   1
-->   1
--> count :base - 7
--# case conditions over several lines, and why they are not met
SELECT * FROM hut;
--> holds NOT EXISTS (SELECT * FROM result
-->     WHERE id > 20)
--> holds (SELECT COUNT(*) FROM result) = 3
--> holds (SELECT COUNT(*) FROM result WHERE id > 1)
-->     = 0
--> holds 1 = 1 AND 2 + 2 < 3 AND :base IS NULL
--> holds NOT EXISTS (SELECT id FROM hut)
--> holds 9 IN (SELECT id FROM result)
--> holds EXISTS (SELECT id FROM hut WHERE id = 9)
--> holds (SELECT price FROM result WHERE id = 2) > 1
--# case what is expected has no value
SELECT 1;
--> value 1 / 0
--> value :nobody
--# case lines that are nearly expected
SELECT 1;
-- > value 2
---> rows
-->value 1
--# case nothing is expected
SELECT 1;
