--# case P001 4/11.2 a module holds routines that are called by its name
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
--# case P001 4/11.2 what a module declares is its own, what it exports is called by its name
CREATE MODULE m
  DECLARE FUNCTION one() RETURNS INTEGER RETURN 1;
  DECLARE FUNCTION two() RETURNS INTEGER RETURN one() + one();
END MODULE;
SELECT m.two();
--> value 2
SELECT two();
--> fails 42883
DROP MODULE m;
SELECT m.two();
--> fails 42704