-- F131-05 Grouped operations: Single row SELECT with GROUP BY and HAVING clauses and grouped views
--# case single row SELECT with GROUP BY, HAVING and grouped views
CREATE VIEW totals (hut, nights) AS SELECT hut, COUNT(*) FROM stay GROUP BY hut;
CREATE PROCEDURE most(OUT n BIGINT) SELECT MAX(nights) INTO n FROM totals GROUP BY hut HAVING hut = 'KOLM';
CALL most(?);
--> value 3
CREATE PROCEDURE several(OUT n BIGINT) SELECT MAX(nights) INTO n FROM totals GROUP BY hut;
CALL several(?);
--> fails 21000
