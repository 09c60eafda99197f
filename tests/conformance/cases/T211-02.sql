-- T211-02 Basic trigger capability: BEFORE triggers
--# case BEFORE triggers can set the new row
CREATE TRIGGER t BEFORE INSERT ON pair REFERENCING NEW AS n FOR EACH ROW SET n.b = COALESCE(n.b, n.a * 100);
INSERT INTO pair VALUES (8, NULL), (9, 1);
SELECT a, b FROM pair WHERE a > 7 ORDER BY a;
--> rows
-->   8 | 800
-->   9 | 1
CREATE TRIGGER u BEFORE INSERT ON pair REFERENCING OLD AS o FOR EACH ROW CALL note('x');
--> fails 42601
