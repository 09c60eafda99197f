-- Fares, loads and what happens in the yard: each kind of routine, each kind of statement, with long names.

CREATE FUNCTION fare(kilograms DECIMAL(9, 3), how VARCHAR(10) DEFAULT 'mule') RETURNS DECIMAL(9, 2)
DETERMINISTIC CONTAINS SQL
RETURN CASE how WHEN 'mule' THEN kilograms * 1.5
                WHEN 'walker' THEN CASE WHEN kilograms > 20 THEN NULL ELSE kilograms * 2.25 END
                ELSE 0 END;

-- As many parcels, from the lightest on, as are together not heavier than this.
CREATE FUNCTION the_parcels_that_one_walker_could_carry_down_in_a_day(most DECIMAL(9, 3))
RETURNS TABLE (id INTEGER, weight DECIMAL(9, 3), together DECIMAL(12, 3))
READS SQL DATA
BEGIN
  DECLARE together DECIMAL(12, 3) DEFAULT 0;
  DECLARE ids INTEGER ARRAY[40] DEFAULT ARRAY[];
  all_parcels: FOR one AS SELECT p.id, p.weight FROM parcel p WHERE p.weight IS NOT NULL ORDER BY p.weight, p.id DO
    IF together + one.weight > most THEN
      LEAVE all_parcels;
    ELSEIF one.weight = 0 THEN
      ITERATE all_parcels;
    END IF;
    SET together = together + one.weight; --@ taken
    SET ids[CARDINALITY(ids) + 1] = one.id;
  END FOR;
  RETURN TABLE (SELECT p.id, p.weight, SUM(p.weight) OVER (ORDER BY p.weight, p.id)
                  FROM parcel p JOIN UNNEST(ids) AS i (id) ON i.id = p.id);
END;

CREATE FUNCTION parcels_of(d CHAR(1)) RETURNS TABLE (id INTEGER, label VARCHAR(200), fare DECIMAL(9, 2))
READS SQL DATA
RETURN TABLE (SELECT p.id, p.label, fare(p.weight) FROM parcel p WHERE p.depot = d);

CREATE FUNCTION levels(n INTEGER) RETURNS INTEGER
DETERMINISTIC CONTAINS SQL
BEGIN
  IF n <= 0 THEN RETURN 0; END IF;
  RETURN 1 + levels(n - 1);
END;

CREATE PROCEDURE tell_the_yard(IN what VARCHAR(2000), IN parts VARCHAR(20) ARRAY[5])
MODIFIES SQL DATA
  INSERT INTO yard.log_of_all_that_happened_in_the_yard (at, what, spent, parts)
  VALUES (TIME '08:00:00', what, INTERVAL '1 02:03:04.56' DAY TO SECOND(2), parts);

-- Gives a walker one parcel a day from this day on; what does not fit is told and passed over.
CREATE PROCEDURE give_out(IN walker INTEGER, IN first_day DATE, IN most DECIMAL(9, 3), OUT given INTEGER, INOUT told VARCHAR(200))
MODIFIES SQL DATA
BEGIN
  DECLARE day DATE DEFAULT first_day;
  DECLARE p INTEGER;
  DECLARE done BOOLEAN DEFAULT FALSE;
  DECLARE too_heavy CONDITION;
  DECLARE rest CURSOR FOR SELECT id FROM parcel WHERE id NOT IN (SELECT parcel FROM carrying WHERE parcel IS NOT NULL) ORDER BY id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET done = TRUE;
  SET given = 0;
  OPEN rest;
  FETCH rest INTO p;
  WHILE NOT done DO
    BEGIN
      DECLARE EXIT HANDLER FOR too_heavy SET told = COALESCE(told || ', ', '') || CAST(p AS VARCHAR(10));
      DECLARE CONTINUE HANDLER FOR SQLSTATE '23505'
        BEGIN
          GET DIAGNOSTICS CONDITION 1 told = MESSAGE_TEXT;
          RESIGNAL SQLSTATE 'UR001' SET MESSAGE_TEXT = 'the walker has a parcel on this day';
        END;
      IF (SELECT weight FROM parcel WHERE id = p) > most THEN SIGNAL too_heavy; END IF;
      INSERT INTO carrying (walker, day, parcel) VALUES (walker, day, p);
      SET given = given + 1; --@ given
      SET day = day + INTERVAL '1' DAY;
    END;
    FETCH rest INTO p;
  END WHILE;
  CLOSE rest;
  CALL tell_the_yard('given out', ARRAY['walker', CAST(walker AS VARCHAR(10)), NULL]);
  CALL note('given: ' || CAST(given AS VARCHAR(10)));
END;

CREATE PROCEDURE weigh_again(IN more DECIMAL(9, 3))
MODIFIES SQL DATA
BEGIN ATOMIC
  DECLARE n INTEGER DEFAULT 0;
  REPEAT
    SET n = n + 1;
    UPDATE parcel SET weight = weight + more WHERE id = n;
    IF n = 2 THEN
      MERGE INTO depot d USING (VALUES ('N', 'north of the wall'), ('X', 'the new one')) AS v (code, name) ON d.code = v.code
        WHEN MATCHED THEN UPDATE SET name = v.name
        WHEN NOT MATCHED THEN INSERT (code, name) VALUES (v.code, v.name);
    END IF;
  UNTIL n >= 4 END REPEAT;
  DELETE FROM carrying WHERE share > 0.9;
END;

CREATE PROCEDURE ask_by_text(IN which VARCHAR(60), OUT n BIGINT)
READS SQL DATA
BEGIN
  PREPARE counting FROM 'SELECT COUNT(*) FROM ' || which;
  EXECUTE counting INTO n;
  CASE WHEN n = 0 THEN SIGNAL SQLSTATE '02000'; WHEN n > 5 THEN CALL note('many'); ELSE SET n = n; END CASE;
END;

CREATE PROCEDURE both_lists() READS SQL DATA DYNAMIC RESULT SETS 2
BEGIN
  DECLARE a CURSOR WITH RETURN FOR SELECT code, name FROM depot ORDER BY code;
  DECLARE b CURSOR WITH RETURN FOR SELECT id FROM parcel WHERE fragile ORDER BY id;
  OPEN a;
  OPEN b;
END;

CREATE PROCEDURE never_called() CONTAINS SQL SET nothing = 1;

CREATE TRIGGER tell_of_moves AFTER UPDATE OF depot ON parcel REFERENCING OLD ROW AS od NEW ROW AS nw FOR EACH ROW
WHEN (od.depot IS DISTINCT FROM nw.depot)
BEGIN ATOMIC
  CALL tell_the_yard('from ' || COALESCE(od.depot, '-') || ' to ' || COALESCE(nw.depot, '-'), NULL);
END;
