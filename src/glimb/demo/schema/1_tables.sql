-- The hut association: huts with their bunks, guests and members, stays, night rates, closures, gear on loan.

CREATE TABLE hut (
  code     CHAR(4)     PRIMARY KEY,
  name     VARCHAR(30) NOT NULL UNIQUE,
  altitude INTEGER     NOT NULL CHECK (altitude BETWEEN 500 AND 4500),
  warden   VARCHAR(30)
);

CREATE TABLE bunk (
  id      INTEGER     PRIMARY KEY,
  hut     CHAR(4)     NOT NULL REFERENCES hut,
  bunk_no INTEGER     NOT NULL,
  room    VARCHAR(10) NOT NULL,
  state   VARCHAR(8)  DEFAULT 'free' NOT NULL CHECK (state IN ('free', 'held', 'broken')),
  UNIQUE (hut, bunk_no)
);

CREATE TABLE guest (
  id   INTEGER     PRIMARY KEY,
  name VARCHAR(40) NOT NULL,
  town VARCHAR(20)
);

CREATE TABLE member (
  guest      INTEGER PRIMARY KEY REFERENCES guest ON DELETE CASCADE,
  since      DATE    NOT NULL,
  paid_until DATE
);

CREATE TABLE stay (
  id     INTEGER    PRIMARY KEY,
  bunk   INTEGER    NOT NULL REFERENCES bunk,
  guest  INTEGER    NOT NULL REFERENCES guest,
  night  DATE       NOT NULL,
  nights INTEGER    DEFAULT 1 NOT NULL CHECK (nights BETWEEN 1 AND 30),
  state  VARCHAR(9) DEFAULT 'booked' NOT NULL CHECK (state IN ('booked', 'arrived', 'cancelled'))
);

CREATE TABLE season_rate (
  hut       CHAR(4) NOT NULL REFERENCES hut,
  first_day DATE    NOT NULL,
  last_day  DATE    NOT NULL,
  rate      DECIMAL(8,2) NOT NULL CHECK (rate > 0),
  PRIMARY KEY (hut, first_day),
  CHECK (last_day >= first_day)
);

CREATE TABLE closure (
  id        INTEGER PRIMARY KEY,
  hut       CHAR(4) NOT NULL REFERENCES hut,
  first_day DATE NOT NULL,
  last_day  DATE,
  reason    VARCHAR(30) NOT NULL
);

CREATE TABLE gear (
  id    INTEGER     PRIMARY KEY,
  hut   CHAR(4)     NOT NULL REFERENCES hut,
  kind  VARCHAR(20) NOT NULL,
  stock INTEGER     NOT NULL CHECK (stock >= 0)
);

CREATE TABLE loan (
  id          INTEGER PRIMARY KEY,
  gear        INTEGER NOT NULL REFERENCES gear,
  guest       INTEGER NOT NULL REFERENCES guest,
  lent_on     DATE    NOT NULL,
  returned_on DATE
);

CREATE TABLE payment (
  id     INTEGER PRIMARY KEY,
  stay   INTEGER NOT NULL REFERENCES stay,
  amount DECIMAL(8,2) NOT NULL CHECK (amount <> 0),
  paid_at TIMESTAMP NOT NULL
);

CREATE VIEW stay_list AS
  SELECT s.id, h.name AS hut, b.bunk_no, g.name AS guest, s.night, s.nights, s.state
  FROM stay s JOIN bunk b ON b.id = s.bunk JOIN hut h ON h.code = b.hut JOIN guest g ON g.id = s.guest;
