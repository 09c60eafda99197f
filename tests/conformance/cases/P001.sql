-- P001 Stored modules
--# case a module holds routines that are called by its name
CREATE MODULE prices
  DECLARE FUNCTION base(hut CHAR(4)) RETURNS DECIMAL(8,2) RETURN (SELECT MIN(s.price) FROM stay s WHERE s.hut = base.hut);
  DECLARE FUNCTION with_tax(hut CHAR(4)) RETURNS DECIMAL(8,2) RETURN base(hut) * 1.1;
END MODULE;
SELECT prices.with_tax('KOLM'), prices.base('SELT');
--> rows
-->   30.80 | NULL
SELECT base('KOLM');
--> fails 42883
SELECT module_name, routine_name FROM information_schema.routines WHERE module_name IS NOT NULL ORDER BY routine_name;
--> rows
-->   'prices' | 'base'
-->   'prices' | 'with_tax'
DROP MODULE prices;
SELECT prices.base('KOLM');
--> fails 42704
