-- A table of each type, long names, keys of two columns, what refers to itself.
CREATE SCHEMA yard;
CREATE DOMAIN weight_of_a_parcel_in_kilograms AS DECIMAL(9, 3) CHECK (VALUE >= 0);
CREATE TABLE depot (code CHAR(1) PRIMARY KEY, name VARCHAR(60) NOT NULL UNIQUE, opened DATE, above CHAR(1) REFERENCES depot);
CREATE TABLE parcel (
    id INTEGER PRIMARY KEY,
    label VARCHAR(200),
    weight weight_of_a_parcel_in_kilograms,
    depot CHAR(1) REFERENCES depot ON UPDATE CASCADE ON DELETE SET NULL,
    seen TIMESTAMP(3),
    fragile BOOLEAN DEFAULT FALSE,
    double_of_its_weight_for_the_way_down GENERATED ALWAYS AS (weight * 2)
);
CREATE TABLE carrying (
    walker INTEGER, day DATE, parcel INTEGER REFERENCES parcel ON DELETE CASCADE, share DOUBLE PRECISION DEFAULT 0.5,
    PRIMARY KEY (walker, day), CONSTRAINT share_is_a_share CHECK (share BETWEEN 0 AND 1)
);
CREATE TABLE yard.log_of_all_that_happened_in_the_yard (
    n INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY, at TIME, what VARCHAR(2000), bytes VARBINARY(20), spent INTERVAL DAY TO SECOND(2),
    parts VARCHAR(20) ARRAY[5]
);
CREATE TABLE nothing_yet (x INTEGER, y BIGINT, z REAL);
CREATE VIEW heavy AS SELECT id, weight FROM parcel WHERE weight > 10 WITH CHECK OPTION;
CREATE SEQUENCE tickets START WITH 100 INCREMENT BY 10;
