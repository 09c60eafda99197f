--# case the discount below the limit
SELECT discount(49);
--> value 5

--# case the discount at the limit
SELECT discount(50);
--> value 10
SELECT id, item, discount(pieces) AS off FROM sale ORDER BY id;
--> rows
-->   id | item      | off
-->   1  | 'soup'    | 5
-->   2  | 'blanket' | 5
-->   3  | 'soup'    | 10
-->   4  | 'map'     | 5
UPDATE sale SET pieces = 51 WHERE id = 3;
--> change sale (3) pieces 50 -> 51
--> committed
