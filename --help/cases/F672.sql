--# case F672 11.9 a CHECK may look at the clock
--# clock 2031-07-14 10:00:00
CREATE TABLE t (day DATE CHECK (day <= CURRENT_DATE));
INSERT INTO t VALUES (DATE '2031-07-14'), (NULL);
--> change t +2
INSERT INTO t VALUES (DATE '2031-07-15');
--> fails 23514
--# wait 1440m
INSERT INTO t VALUES (DATE '2031-07-15');
--> change t +1