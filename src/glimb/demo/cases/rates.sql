-- Rates: members, seasons, closures, and both sides of every boundary.
--# fixture valley

--# case the night rate of a member
--# let guest = 104
SELECT night_rate('VARN', DATE '2031-07-14', :guest);
--> value 31.50

--# case the night rate of somebody who is no member, or no longer one
SELECT night_rate('VARN', DATE '2031-07-14', 211);
--> value 45.00
SELECT night_rate('VARN', DATE '2031-07-14', 105);
--> value 45.00
SELECT is_member(105, DATE '2030-12-31'), is_member(105, DATE '2031-01-01');
--> rows
-->   TRUE | FALSE

--# case no rate, for two different reasons
SELECT night_rate('VARN', DATE '2031-11-02', 104);
--> value NULL
--> note 'no season'
SELECT night_rate('GRAT', DATE '2031-07-14', 104);
--> value NULL
--> note 'closed'

--# case the first and last day of a season
SELECT night_rate('VARN', DATE '2031-06-14', 211);
--> value 38.00
SELECT night_rate('VARN', DATE '2031-06-15', 211);
--> value 45.00
SELECT night_rate('VARN', DATE '2031-09-15', 211);
--> value 45.00
SELECT night_rate('VARN', DATE '2031-09-16', 211);
--> value 38.00

--# case refunds on both sides of the limits
SELECT refund_percent(14), refund_percent(13), refund_percent(3), refund_percent(2), refund_percent(0);
--> rows
-->   100 | 50 | 50 | 0 | 0
SELECT refund_percent(NULL);
--> value 0

--# case a stay over the change of season
SELECT stay_price(9);
--> value 128.00
--> no notes
SELECT stay_price(999);
--> value NULL
