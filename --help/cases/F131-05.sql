--# case F131-05 7.13 single row SELECT with GROUP BY, HAVING and grouped views
CREATE VIEW totals (hut, nights) AS SELECT hut, COUNT(*) FROM stay GROUP BY hut;
CREATE PROCEDURE most(OUT n BIGINT) SELECT MAX(nights) INTO n FROM totals GROUP BY hut HAVING hut = 'KOLM';
CALL most(?);
--> value 3
CREATE PROCEDURE several(OUT n BIGINT) SELECT MAX(nights) INTO n FROM totals GROUP BY hut;
CALL several(?);
--> fails 21000