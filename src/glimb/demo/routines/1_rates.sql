-- What a night costs.

CREATE FUNCTION is_member(guest_id INTEGER, on_day DATE) RETURNS BOOLEAN
READS SQL DATA
RETURN EXISTS (SELECT 1 FROM member m WHERE m.guest = guest_id AND m.since <= on_day
               AND (m.paid_until IS NULL OR m.paid_until >= on_day));

CREATE FUNCTION hut_open(hut_code CHAR(4), on_day DATE) RETURNS BOOLEAN
READS SQL DATA
RETURN NOT EXISTS (SELECT 1 FROM closure c WHERE c.hut = hut_code AND c.first_day <= on_day
                   AND (c.last_day IS NULL OR c.last_day >= on_day));

-- NULL for two reasons: the hut is closed that night, or no season covers it.
CREATE FUNCTION night_rate(hut_code CHAR(4), night DATE, guest_id INTEGER) RETURNS DECIMAL(8,2)
READS SQL DATA
BEGIN
  DECLARE base DECIMAL(8,2);
  IF NOT hut_open(hut_code, night) THEN
    CALL note('closed');
    RETURN NULL;
  END IF;
  -- allow select-into-by-no-key: seasons do not overlap
  SELECT r.rate INTO base FROM season_rate r
   WHERE r.hut = hut_code AND night BETWEEN r.first_day AND r.last_day;
  IF base IS NULL THEN
    CALL note('no season');
    RETURN NULL;
  END IF;
  IF is_member(guest_id, night) THEN
    SET base = base * 0.70;
  END IF;
  RETURN base;
END;

CREATE FUNCTION stay_price(stay_id INTEGER) RETURNS DECIMAL(10,2)
READS SQL DATA
BEGIN
  DECLARE total DECIMAL(10,2) DEFAULT 0;
  DECLARE done INTEGER DEFAULT 0;
  DECLARE how_many, who INTEGER;
  DECLARE first_night DATE;
  DECLARE where_at CHAR(4);
  SELECT s.nights, s.guest, s.night, b.hut INTO how_many, who, first_night, where_at
    FROM stay s JOIN bunk b ON b.id = s.bunk WHERE s.id = stay_id;
  IF how_many IS NULL THEN
    RETURN NULL;
  END IF;
  each_night: WHILE done < how_many DO
    SET total = total + COALESCE(night_rate(where_at, first_night + CAST(done AS INTERVAL DAY), who), 0);
    SET done = done + 1;
  END WHILE each_night;
  RETURN total;
END;

-- How much of the price comes back: all of it two weeks ahead, half until three days ahead, then nothing.
CREATE FUNCTION refund_percent(days_ahead INTEGER) RETURNS INTEGER
DETERMINISTIC CONTAINS SQL
BEGIN
  IF days_ahead >= 14 THEN RETURN 100;
  ELSEIF days_ahead >= 3 THEN RETURN 50;
  ELSE RETURN 0;
  END IF;
END;
