"""A long run of ten sessions: does memory stay as it is, is the record the same twice, is all as it may be?

    python -m tools.enduring 10000000 [SEED]   statements, in two processes; with DDL, deadlocks, stops in the middle

It tells what was recorded, as a hash for each part, and fails where the two processes differ, where a statement ends in a
fault of ours, where all sessions wait, where committed rows refer to nothing, or where memory has grown.
"""

from __future__ import annotations

import hashlib
import random
import subprocess
import sys
import time
from collections import Counter
from collections.abc import Iterator
from itertools import combinations
from pathlib import Path
from threading import Event, Thread

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.storage.indexes import Row
from glimb.engine.storage.table import Table
from glimb.engine.transactions.budget import memory_taken
from glimb.engine.transactions.locks import compatible
from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.lang.tree import Statement

ROOT = Path(__file__).parent.parent
SESSIONS = tuple(f"clerk{number}" for number in range(10))
CASE, PARTS = 2000, 50
"""Statements from the fixture on, until it is gone back to; how often the record is told."""
SETTLED, MOST_GROWTH = 0.3, 1.10
"""Behind this share of a run memory may grow by so much, to its end."""
STOPS, DEFINITIONS, PAUSES = 4000, 500, 200
"""One of so many statements is stopped in the middle; one of so many defines something; behind one of so many time
passes, so that who waits with patience waits no longer."""
SCHEMA = """
CREATE TABLE hut (id INTEGER PRIMARY KEY, name VARCHAR(20) UNIQUE, beds INTEGER CHECK (beds >= 0));
CREATE TABLE stay (id INTEGER PRIMARY KEY, hut INTEGER REFERENCES hut ON DELETE CASCADE, guest INTEGER, nights INTEGER DEFAULT 1);
CREATE TABLE log (line INTEGER, said VARCHAR(40));
CREATE TABLE heap (session INTEGER, n INTEGER);
CREATE VIEW full_hut AS SELECT h.id, COUNT(*) AS stays FROM hut h JOIN stay s ON s.hut = h.id GROUP BY h.id;
CREATE SEQUENCE ticket MINVALUE 1 MAXVALUE 1000 CYCLE;
CREATE TRIGGER logs AFTER UPDATE OF beds ON hut REFERENCING NEW AS now FOR EACH ROW
  INSERT INTO log VALUES (now.id, 'beds ' || CAST(now.beds AS VARCHAR(10)));
CREATE PROCEDURE book (IN h INTEGER, IN g INTEGER, OUT rest INTEGER)
BEGIN
  DECLARE EXIT HANDLER FOR SQLSTATE '23514' SET rest = -1;
  DECLARE CONTINUE HANDLER FOR SQLSTATE '23505' CALL note('there already');
  INSERT INTO stay (id, hut, guest) VALUES (h * 10 + g, h, g);
  UPDATE hut SET beds = beds - 1 WHERE id = h;
  SELECT beds INTO rest FROM hut WHERE id = h;
END;
CREATE PROCEDURE churn (IN who INTEGER)
BEGIN
  DECLARE i INTEGER DEFAULT 0;
  INSERT INTO heap VALUES (who, 0), (who, 1), (who, 2);
  WHILE i < 50000 DO
    UPDATE heap SET n = n + 1 WHERE session = who;
    SET i = i + 1;
  END WHILE;
END;
CREATE TABLE buoy (k INTEGER PRIMARY KEY, r INTEGER REFERENCES buoy DEFERRABLE, u INTEGER UNIQUE DEFERRABLE);
CREATE TABLE crew (k INTEGER PRIMARY KEY, h INTEGER REFERENCES hut ON UPDATE CASCADE ON DELETE SET NULL);
CREATE TABLE made (k INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY, g INTEGER, d INTEGER GENERATED ALWAYS AS (g * 2));
CREATE TABLE loose (a INTEGER, b INTEGER);
CREATE GLOBAL TEMPORARY TABLE own (x INTEGER) ON COMMIT DELETE ROWS;
CREATE PROCEDURE walk (IN n INTEGER)
BEGIN
  DECLARE x INTEGER;
  DECLARE is_over BOOLEAN DEFAULT FALSE;
  DECLARE c CURSOR FOR SELECT id FROM hut WHERE beds >= n FOR UPDATE;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET is_over = TRUE;
  OPEN c;
  WHILE NOT is_over DO
    FETCH c INTO x;
    IF NOT is_over THEN UPDATE hut SET beds = beds + 1 WHERE CURRENT OF c; END IF;
  END WHILE;
  CLOSE c;
END;
CREATE PROCEDURE careful (IN h INTEGER)
BEGIN ATOMIC
  DECLARE UNDO HANDLER FOR SQLEXCEPTION CALL note('undone');
  UPDATE hut SET beds = beds - 2 WHERE id = h;
  INSERT INTO crew VALUES (h, h);
END;
INSERT INTO buoy VALUES (1, 1, 1), (2, 1, 2), (3, NULL, 3);
INSERT INTO hut VALUES (1, 'north', 3), (2, 'south', 5), (3, 'east', 2), (4, 'west', 4);
INSERT INTO crew VALUES (1, 1), (2, 2);
COMMIT
"""
WHOLE = (
    "SELECT * FROM stay WHERE hut NOT IN (SELECT id FROM hut)",
    "SELECT name FROM hut GROUP BY name HAVING COUNT(*) > 1",
    "SELECT id FROM hut WHERE beds < 0",
    "SELECT * FROM heap",
    "SELECT * FROM own",
    "SELECT * FROM buoy WHERE r NOT IN (SELECT k FROM buoy)",
    "SELECT k FROM buoy GROUP BY k HAVING COUNT(*) > 1",
    "SELECT u FROM buoy WHERE u IS NOT NULL GROUP BY u HAVING COUNT(*) > 1",
    "SELECT * FROM crew WHERE h IS NOT NULL AND h NOT IN (SELECT id FROM hut)",
    "SELECT * FROM made WHERE d <> g * 2 OR (d IS NULL) <> (g IS NULL)",
)
"""Queries that find what must not be there."""
LEVELS = ("READ UNCOMMITTED", "READ COMMITTED", "REPEATABLE READ", "SERIALIZABLE")


def texts() -> list[str]:
    """What the sessions say; what stands here more than once is said more often."""
    found = ["COMMIT", "COMMIT", "ROLLBACK"] * 40
    for hut in range(1, 6):
        for n in range(5):
            found += (
                f"UPDATE hut SET beds = beds + {n} WHERE id = {hut} AND beds < 50",
                f"UPDATE hut SET beds = beds - {n} WHERE id = {hut}",
                f"SELECT beds FROM hut WHERE id = {hut}",
                f"SELECT h.name, s.guest FROM hut h LEFT JOIN stay s ON s.hut = h.id WHERE h.id >= {hut} ORDER BY 1, 2",
                f"CALL book({hut}, {n}, ?)",
                f"DELETE FROM stay WHERE hut = {hut} AND guest >= {n}",
                f"INSERT INTO stay VALUES ({hut * 10 + n}, {hut}, {n}, 2)",
                f"UPDATE stay SET nights = nights + 1 WHERE guest = {n} AND nights < 9",
                f"SELECT COUNT(*), SUM(beds) FROM hut WHERE beds > {n}",
                f"SELECT id FROM stay WHERE hut = {hut} AND nights > {n} FOR UPDATE",
                f"INSERT INTO hut VALUES ({hut}, 'hut {hut}', {n})",
                f"UPDATE buoy SET u = u + {n} WHERE k = {hut}",
                f"UPDATE buoy SET r = {n} WHERE k = {hut}",
                f"INSERT INTO buoy VALUES ({hut}, {n}, {hut})",
                f"INSERT INTO made (g) VALUES ({n}), ({hut})",
                f"UPDATE made SET g = g + 1 WHERE d = {n * 2}",
                f"INSERT INTO loose VALUES ({hut}, {n})",
                f"INSERT INTO own VALUES ({n})",
            )
        found += (
            "UPDATE buoy SET k = k + 1",
            f"DELETE FROM buoy WHERE k = {hut}",
            f"UPDATE hut SET id = id + 10 WHERE id = {hut}",
            f"UPDATE hut SET id = id - 10 WHERE id = {hut + 10}",
            f"INSERT INTO crew VALUES ({hut}, {hut})",
            f"UPDATE crew SET h = (SELECT MAX(id) FROM hut) WHERE k = {hut}",
            f"DELETE FROM hut WHERE id IN (SELECT h FROM crew WHERE k = {hut})",
            f"DELETE FROM made WHERE g > {hut}",
            f"UPDATE loose SET b = b + 1 WHERE a = {hut}",
            f"INSERT INTO loose SELECT id, beds FROM hut WHERE id > {hut}",
            f"DELETE FROM loose WHERE b > {hut}",
            f"CALL walk({hut})",
            f"CALL careful({hut})",
            f"SELECT id FROM hut WHERE id >= {hut} ORDER BY id FOR UPDATE SKIP LOCKED",
            f"SELECT id FROM hut WHERE id = {hut} FOR UPDATE NOWAIT",
            f"SELECT id FROM stay WHERE hut = {hut} FOR SHARE",
            f"SELECT id FROM hut WHERE id = {hut} FOR UPDATE WAIT 2",
            f"DELETE FROM hut WHERE id = {hut}",
            f"MERGE INTO stay t USING (VALUES ({hut})) v (k) ON t.id = v.k WHEN MATCHED THEN UPDATE SET nights = 1 "
            f"WHEN NOT MATCHED THEN INSERT VALUES (v.k, {hut}, 0, 1)",
            f"SELECT * FROM full_hut WHERE id = {hut}",
            f"UPDATE hut SET name = 'hut ' || CAST({hut} AS VARCHAR(3)) WHERE id = {hut % 4 + 1}",
        )
    for level in LEVELS:
        found += (f"SET TRANSACTION ISOLATION LEVEL {level}, READ WRITE",) * 3
    return [
        *found,
        *("SAVEPOINT here", "ROLLBACK TO SAVEPOINT here", "RELEASE SAVEPOINT here", "DELETE FROM log") * 6,
        *("SELECT NEXT VALUE FOR ticket", "SIGNAL SQLSTATE '45000'", "SELECT 1 / (beds - beds) FROM hut") * 3,
        *("INSERT INTO extra VALUES (1)", "SELECT twice(beds) FROM hut", "DELETE FROM crew WHERE h IS NULL"),
        *("SET CONSTRAINTS ALL DEFERRED", "SET CONSTRAINTS ALL IMMEDIATE", "SELECT COUNT(*) FROM own") * 5,
        *("TRUNCATE TABLE loose", "TRUNCATE TABLE made", "COMMIT AND CHAIN", "ROLLBACK AND CHAIN") * 3,
        *("LOCK TABLE loose IN EXCLUSIVE MODE", "LOCK TABLE crew IN SHARE MODE"),
    ]


DEFINING = (
    "CREATE TABLE extra (a INTEGER PRIMARY KEY)",
    "DROP TABLE extra",
    "ALTER TABLE extra ADD COLUMN b INTEGER DEFAULT 7",
    "ALTER TABLE extra DROP COLUMN b CASCADE",
    "CREATE OR REPLACE FUNCTION twice (n INTEGER) RETURNS INTEGER RETURN n * 2",
    "CREATE OR REPLACE VIEW full_hut AS SELECT h.id, COUNT(*) AS stays FROM hut h JOIN stay s ON s.hut = h.id GROUP BY h.id",
    "ALTER TABLE log ADD COLUMN more INTEGER DEFAULT 1",
    "ALTER TABLE log DROP COLUMN more CASCADE",
)
"""Each has all statements compiled anew that use what it changes."""


class Run:
    """Ten sessions of an engine, each saying something at random where it does not wait."""

    def __init__(self, seed: int) -> None:
        self.engine = Engine()
        self.chance = random.Random(seed)
        self.said: list[tuple[Statement, Source]] = [self._read(text) for text in texts()]
        self.defining = [self._read(text) for text in DEFINING]
        self.stopped = [self._read(f"CALL churn({number})") for number in range(len(SESSIONS))]
        self.whole = [self._read(text) for text in WHOLE]
        self.rollback = self._read("ROLLBACK")
        self.ended: Counter[str] = Counter()
        """How statements have ended: SQLSTATE, waits, stops."""
        self.record = hashlib.blake2b(digest_size=12)
        for statement in parse(Source(SCHEMA)).statements:
            (outcome,) = self.engine.execute(self.engine.session(SESSIONS[0]), statement, Source(SCHEMA))
            assert outcome.failure is None, outcome.failure
        self.engine.set_base()
        self.fixture = self.rows()
        self.begin(0)

    def begin(self, number: int) -> None:
        """From the fixture, as a case does; the models take turns."""
        self.engine.reset()
        assert self.rows() == self.fixture, "the fixture is not as it was"
        self.engine.use_model(("versions", "locking")[number % 2])
        for place, name in enumerate(SESSIONS):
            self.engine.session(name).set({"isolation": LEVELS[place % len(LEVELS)].lower()})

    def rows(self) -> dict[str, list[Row]]:
        """All that is stored."""
        tables = self.engine.catalog.tables()
        return {table.name: [row for row in table.rows.values() if row is not None] for table in tables}

    def case(self, number: int, length: int) -> None:
        """So many statements, and what they have come to."""
        self.begin(number)
        for _ in range(length):
            self.step()
        self.settle()

    @staticmethod
    def _read(text: str) -> tuple[Statement, Source]:
        source = Source(text)
        parsed = parse(source)
        assert not parsed.problems, (text, parsed.problems[0].brief())
        return parsed.statements[0], source

    def say(self, name: str, said: tuple[Statement, Source]) -> list[Outcome]:
        """One session says something; what comes of it goes into the record."""
        found = self.engine.execute(self.engine.session(name), *said)
        for one in found:
            failure = one.failure.sqlstate if one.failure is not None else ""
            assert failure != "XX000", (said[1].text, one.failure)
            self.ended[failure or ("waits" if one.waiting is not None else "well")] += 1
            self.record.update(
                repr((one.session, failure, one.row_count, one.rows, one.notes, one.waiting, one.wakes)).encode()
            )
        return found

    def ready(self) -> list[str]:
        return [name for name in SESSIONS if self.engine.session(name).claims.waiting is None]

    def step(self) -> None:
        ready = self.ready()
        if not ready:  # a deadlock has been seen at once, so somebody can always go on
            raise AssertionError("all sessions wait")
        if not self.chance.randrange(STOPS):
            self._stop(self.chance.choice(ready))
        if not self.chance.randrange(PAUSES):
            self.engine.advance(1)
        some = self.said if self.chance.randrange(DEFINITIONS) else self.defining
        self.say(self.chance.choice(ready), self.chance.choice(some))

    def _stop(self, name: str) -> None:
        """Stop a statement in the middle, whenever that is, and undo what it has done of it: nothing is left."""
        self.say(name, self.rollback)
        if name not in self.ready():
            return
        ended = Event()
        stopper = Thread(target=self._stop_until, args=(ended, self.chance.random() / 50))
        stopper.start()
        (outcome, *_) = self.engine.execute(self.engine.session(name), *self.stopped[SESSIONS.index(name)])
        ended.set()
        stopper.join()
        state = outcome.failure.sqlstate if outcome.failure is not None else "well"
        assert state in ("57014", "well", "23514", "40001"), outcome.failure
        self.ended[f"stop: {state}"] += 1
        self.say(name, self.rollback)

    def look(self) -> None:
        """Locks and indexes are as they may be, in the middle of everything."""
        told = [*wrong_locks(self.engine), *wrong_indexes(self.engine), *wrong_logs(self.engine)]
        assert not told, told

    def _stop_until(self, ended: Event, seconds: float) -> None:
        """Stop what runs after a while; again, where it had not begun yet."""
        while not ended.wait(seconds):
            self.engine.watch.stop()

    def settle(self) -> None:
        """End all transactions, and look whether what is there may be there."""
        for _ in SESSIONS:
            for name in self.ready():
                self.say(name, self.rollback)
        assert len(self.ready()) == len(SESSIONS)
        assert not self.engine.shared.locks.locks, "a lock is held by nobody's transaction"
        self.look()
        for said in self.whole:
            (outcome,) = self.say(SESSIONS[0], said)
            assert outcome.rows == [], (said[1].text, outcome.rows)
        self.say(SESSIONS[0], self.rollback)


def wrong_locks(engine: Engine) -> Iterator[str]:
    """Modes that exclude each other are held by one, who waits is kept by somebody and stands in one queue, and no
    circle of waits has been left standing."""
    locks = engine.shared.locks
    for resource, lock in locks.locks.items():
        for (one, held), (other, wanted) in combinations(lock.holders.items(), 2):
            if not compatible(held, wanted):
                yield f"{resource}: {one.name} has {held}, {other.name} {wanted}"
        for owner, mode in lock.holders.items():
            if owner.held.get(resource) != mode:
                yield f"{resource}: {owner.name} has {mode} here, {owner.held.get(resource)} there"
        for request in lock.queue:
            wait = request.session.waiting
            if wait is None or wait.resource != resource:
                yield f"{resource}: {request.session.name} stands in the queue and waits for {wait}"
            elif not lock.blockers(request.session, request.mode):
                yield f"{resource}: nobody keeps {request.session.name} from {request.mode}"
    for session in engine.sessions.values():
        if session.claims.waiting is not None and locks.circle(session.claims):
            yield f"a circle through {session.name}"
        for resource, mode in session.claims.held.items():
            if resource not in locks.locks or locks.locks[resource].holders.get(session.claims) != mode:
                yield f"{resource}: {session.name} has {mode} by itself only"


def wrong_indexes(engine: Engine) -> Iterator[str]:
    """An index has the rows that its table has."""
    for table in engine.catalog.tables():
        rows = [row for row in table.rows.values() if row is not None]
        for index in table.indexes:
            wanted = {row[-1]: row for row in rows if not index.has_null(index.get_key(row))}
            kept = index.map.values() if index.unique else [r for some in index.map.values() for r in some.values()]
            if {row[-1]: row for row in kept} != wanted:
                yield f"{table.name}: index {index.name} has {len(list(kept))} rows of {len(wanted)}"


def wrong_logs(engine: Engine) -> Iterator[str]:
    """What a session would take back is there: the last of its changes of a row is how the row is."""
    for session in engine.sessions.values():
        last: dict[tuple[Table, int], Row | None] = {}
        for where, key, _, after in session.log:
            if isinstance(where, Table):
                last[where, key] = after
        for (table, key), row in last.items():
            if table.rows.get(key) != row:
                yield f"{session.name} has changed {table.name} {key} to {row}, which is {table.rows.get(key)}"


def statements(count: int, seed: int) -> None:
    """One process's run: a line for each part."""
    run, begun = Run(seed), time.perf_counter()
    for part in range(1, PARTS + 1):
        for number in range(count // PARTS // CASE):
            run.case(number, CASE)
        print(part * count // PARTS, run.record.hexdigest(), memory_taken() // 1024, flush=True)
    print("ended", dict(run.ended.most_common()), f"{time.perf_counter() - begun:.0f} s", flush=True)


def both(count: int, seed: int) -> int:
    """Two processes with the same seed."""
    command = [sys.executable, "-m", "tools.enduring", "alone", str(count), str(seed)]
    started = [subprocess.Popen(command, cwd=ROOT, stdout=subprocess.PIPE, text=True) for _ in range(2)]
    one, other = (process.communicate()[0].splitlines() for process in started)
    print(*one, sep="\n")
    if any(process.returncode for process in started):
        print("a run has ended with a fault")
        return 1
    records = [[line.split()[:2] for line in lines[:-1]] for lines in (one, other)]
    memory = [int(line.split()[2]) for line in one[:-1]]
    settled = max(memory[: int(SETTLED * len(memory))])
    print(f"memory {settled:,} KB after {SETTLED:.0%}, {memory[-1]:,} KB at the end")
    is_same, is_flat = records[0] == records[1], memory[-1] <= settled * MOST_GROWTH
    print(f"the record is {'the same' if is_same else 'NOT the same'} twice; memory {'stays' if is_flat else 'GROWS'}")
    return 0 if is_same and is_flat else 1


if __name__ == "__main__":
    is_alone, given = sys.argv[1] == "alone", [*sys.argv[1:], "1"]
    amount, seed = map(int, given[is_alone:][:2])
    if is_alone:
        statements(amount, seed)
    else:
        sys.exit(both(amount, seed))
