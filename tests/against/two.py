"""Two sessions here (model `versions`) and in PostgreSQL: the same statements in the same order, who waits, how each ends,
what it gives, and the rows in the end.

Levels up to REPEATABLE READ are compared statement by statement. SERIALIZABLE is kept in other ways here and there (at
COMMIT here, by dangerous structures there), so that other transactions may be given up: there, what was committed here
must be what one after the other would have brought about.
"""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from itertools import permutations
from typing import Any, NamedTuple

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.lang.parser import parse
from glimb.lang.source import Source

NAMES = ("a", "b")
LEVELS = ("READ UNCOMMITTED", "READ COMMITTED", "REPEATABLE READ", "SERIALIZABLE")
SCHEMA = (
    "CREATE TABLE t (k INTEGER PRIMARY KEY, n INTEGER)",
    "INSERT INTO t VALUES (1, 10), (2, 20), (3, 30)",
    "CREATE TABLE p (k INTEGER PRIMARY KEY, n INTEGER)",
    "CREATE TABLE c (k INTEGER PRIMARY KEY, p INTEGER REFERENCES p, u INTEGER UNIQUE)",
    "INSERT INTO p VALUES (1, 10), (2, 20), (3, 30)",
    "INSERT INTO c VALUES (1, 1, 100), (2, 2, 200)",
)
TABLES = ("t", "p", "c")
LONG = 12
PATIENCE = 10.0
DEADLOCK_MS = 10
"""How long a session waits there before it looks for a deadlock."""


class Told(NamedTuple):
    """How a statement ended: a SQLSTATE or nothing, its rows, how many it changed; `waits`: it has not."""

    state: str = ""
    rows: tuple[Any, ...] | None = None
    changed: int | None = None
    waits: bool = False


def statements(chance: random.Random) -> list[tuple[str, str]]:
    """Statements of two sessions, in the order in which they are given; a session that waits is passed over."""
    found = []
    for _ in range(LONG):
        found.append((chance.choice(NAMES), statement(chance)))
    return found


def statement(chance: random.Random) -> str:
    """Changes name their row by its key: of many rows, which of them a statement that has waited looks at again is a choice
    (docs/architecture.md). Rows that are referred to are not changed otherwise than by their key, and keys that are there
    are not inserted: here S protects them, and X what is changed, whatever of it changes."""
    k, other, n = chance.randrange(1, 5), chance.randrange(1, 4), chance.randrange(1, 40)
    return chance.choice(
        (
            f"UPDATE t SET n = n + {n} WHERE k = {k}",
            f"UPDATE t SET n = n + {n} WHERE k = {k} AND n < {n}",
            f"UPDATE t SET k = {k + 3} WHERE k = {k}",
            f"DELETE FROM t WHERE k = {k}",
            f"SELECT n FROM t WHERE k = {k}",
            f"SELECT n FROM t WHERE k = {k} FOR UPDATE",
            "SELECT COUNT(*), SUM(n) FROM t",
            f"UPDATE p SET k = {k + 3} WHERE k = {k}",
            f"INSERT INTO p VALUES ({k + 2}, {n})",
            f"DELETE FROM p WHERE k = {k}",
            "SELECT k, n FROM p ORDER BY k",
            f"UPDATE c SET u = {n % 4 * 100} WHERE k = {k}",
            f"UPDATE c SET p = {chance.choice((other, 'NULL', 9))} WHERE k = {k}",
            f"INSERT INTO c VALUES ({k + 1}, {other}, {n % 4 * 100})",
            f"DELETE FROM c WHERE k = {k}",
            "SELECT k, p, u FROM c ORDER BY k",
            "SAVEPOINT s",
            "ROLLBACK TO SAVEPOINT s",
            "COMMIT",
            "COMMIT",
            "ROLLBACK",
        )
    )


# ---- here -----------------------------------------------------------------------------------------------------------


class Here:
    """Two sessions of this engine."""

    def __init__(self, level: str) -> None:
        self.engine = Engine()
        self.engine.use_model("versions")
        for text in SCHEMA:
            self.run("setup", text)
        self.run("setup", "COMMIT")
        for name in NAMES:
            self.engine.session(name).set({"isolation": level.lower()})

    def run(self, name: str, text: str) -> dict[str, Told]:
        """What the statement did, and what became of the other one that waited."""
        source = Source(text)
        (node,) = parse(source).statements
        return {o.session: told_here(o) for o in self.engine.execute(self.engine.session(name), node, source)}

    def rows(self) -> list[tuple[Any, ...]]:
        return [self.run("setup", f"SELECT * FROM {table} ORDER BY k")["setup"].rows or () for table in TABLES]


def told_here(outcome: Outcome) -> Told:
    if outcome.waiting is not None:
        return Told(waits=True)
    if outcome.failure is not None:
        return Told(outcome.failure.sqlstate)
    if outcome.rows is not None:
        return Told("", tuple(tuple(row[: len(outcome.columns)]) for row in outcome.rows))
    return Told("", None, outcome.row_count)


# ---- there ----------------------------------------------------------------------------------------------------------


class There:
    """Two connections, each with a thread that waits in its statement; a third one says whether one waits for a lock."""

    def __init__(self, connect: Callable[[], Any], level: str) -> None:
        self.watch = connect()
        self.watch.autocommit = True
        for text in ("DROP TABLE IF EXISTS c, p, t", *SCHEMA):
            self.watch.execute(text)
        self.connections = {name: connect() for name in NAMES}
        self.pools = {name: ThreadPoolExecutor(1) for name in NAMES}
        self.pending: dict[str, Future[Told]] = {}
        self.pids = {name: c.info.backend_pid for name, c in self.connections.items()}
        for connection in self.connections.values():
            connection.autocommit = True
            connection.execute(f"SET deadlock_timeout = '{DEADLOCK_MS}ms'")
            connection.execute(f"SET SESSION CHARACTERISTICS AS TRANSACTION ISOLATION LEVEL {level}")
        self.open = dict.fromkeys(NAMES, False)
        self.savepoint = dict.fromkeys(NAMES, False)

    def run(self, name: str, text: str) -> dict[str, Told]:
        """The same as here."""
        self.pending[name] = self.pools[name].submit(self._statement, name, text)
        found = {name: self._settled(name)}
        for other in [o for o in self.pending if o != name]:
            if not self._is_blocked(other):
                found[other] = self._settled(other)
        return found

    def _settled(self, name: str) -> Told:
        end = time.monotonic() + PATIENCE
        blocked_until = 0.0
        while time.monotonic() < end:
            if self.pending[name].done():
                return self.pending.pop(name).result()
            if self._is_blocked(name):
                if 0 < blocked_until < time.monotonic():
                    return Told(waits=True)
                # The one that waits first has looked for a deadlock before the other one can close it: that is ended.
                looks = 2 if len(self.pending) < len(NAMES) else 20
                blocked_until = blocked_until or time.monotonic() + looks * DEADLOCK_MS / 1000
            time.sleep(0.0005)
        raise AssertionError(f"{name} neither ends nor waits")

    def _is_blocked(self, name: str) -> bool:
        if self.pending[name].done():
            return False
        return bool(self.watch.execute("SELECT pg_blocking_pids(%s)", (self.pids[name],)).fetchone()[0])

    def _statement(self, name: str, text: str) -> Told:
        """In a savepoint of its own, since a statement that fails must leave its transaction as it was; what has lost
        against another transaction is given up as a whole."""
        connection = self.connections[name]
        if text in ("COMMIT", "ROLLBACK"):
            told = self._plainly(name, text) if self.open[name] else Told()
            self.open[name] = self.savepoint[name] = False
            return told
        if not self.open[name]:
            connection.execute("BEGIN")
            self.open[name] = True
        if text == "ROLLBACK TO SAVEPOINT s" and not self.savepoint[name]:
            return Told("3B001")
        if "SAVEPOINT" in text:
            self.savepoint[name] = True
            return self._plainly(name, text)
        connection.execute("SAVEPOINT statement")
        told = self._plainly(name, text)
        if told.state[:2] == "40":
            connection.execute("ROLLBACK")
            self.open[name] = self.savepoint[name] = False
        else:
            connection.execute("ROLLBACK TO SAVEPOINT statement" if told.state else "RELEASE SAVEPOINT statement")
        return told

    def _plainly(self, name: str, text: str) -> Told:
        try:
            cursor = self.connections[name].execute(text)
        except Exception as error:
            return Told(str(getattr(error, "sqlstate", None) or error))
        if cursor.description:
            return Told("", tuple(map(tuple, cursor.fetchall())))
        return Told("", None, cursor.rowcount if text.split()[0] in ("UPDATE", "INSERT", "DELETE") else None)

    def rows(self) -> list[tuple[Any, ...]]:
        return [tuple(map(tuple, self.watch.execute(f"SELECT * FROM {t} ORDER BY k").fetchall())) for t in TABLES]

    def close(self) -> None:
        for connection in self.connections.values():
            connection.close()
        for pool in self.pools.values():
            pool.shutdown()
        self.watch.close()


# ---- both -----------------------------------------------------------------------------------------------------------


def compared(connect: Callable[[], Any], seed: int) -> tuple[int, str]:
    """How many statements were run, and what came out otherwise, if anything."""
    chance = random.Random(seed)
    level = chance.choice(LEVELS)
    if level == "SERIALIZABLE":
        return serial(chance)
    here, there = Here(level), There(connect, level)
    waiting: set[str] = set()
    done: list[str] = []
    kept = False
    try:
        todo = [*statements(chance), *((name, "COMMIT") for name in NAMES * 2)]
        while todo:
            name, text = todo.pop(0)
            if name in waiting:
                continue
            done.append(f"{name}> {text}")
            mine, theirs = here.run(name, text), there.run(name, text)
            kept = kept or text.startswith("ROLLBACK TO")
            if is_chosen(mine, theirs, kept):
                break
            if not same(mine, theirs):
                return len(done), "\n".join([level, *done, f"  here  {mine}", f"  there {theirs}"])
            waiting = {n for n in {*waiting, name} if (mine.get(n) or Told(waits=n in waiting)).waits}
            # The locks of a statement that has failed stay here, and are given back there.
            todo[:0] = [(n, "ROLLBACK") for n, told in mine.items() if told.state[:2] == "23"]
        else:
            if here.rows() != there.rows():
                return len(done), "\n".join([level, *done, f"  here  {here.rows()}", f"  there {there.rows()}"])
    finally:
        there.close()
    return len(done), ""


def is_chosen(mine: dict[str, Told], theirs: dict[str, Told], kept: bool) -> bool:
    """Whether what differs is a choice that the docs name (docs/language.md). A row that refers or is referred to, and that
    somebody is changing, is waited for here and looked at as it is committed there, and so is a key that is there; a
    key is free of what happens to the rest of its row here, and waited for there. Behind a wait a constraint looks at
    what is there now, while there a snapshot decides; and a statement looks for its rows anew, so that one that has come
    meanwhile belongs to them. Locks are `kept` when a transaction goes back to a savepoint."""
    for name, ours in mine.items():
        other = theirs.get(name, Told())
        if (ours.waits or ours.state == "40001") and other.state in ("23503", "23505"):
            return True
        if (ours.state == "23505" and other.waits) or (kept and ours.waits and not other.waits):
            return True
        if len(mine) > 1 and ours.state == other.state == "" and (ours.changed or 0) > (other.changed or 0):
            return True
        if ours.state in ("", "23503") and other.state in ("23503", "40001") and ours != other and len(mine) > 1:
            return True
    return False


def same(mine: dict[str, Told], theirs: dict[str, Told]) -> bool:
    return mine.keys() == theirs.keys() and all(same_told(mine[n], theirs[n]) for n in mine)


def same_told(mine: Told, theirs: Told) -> bool:
    """A deadlock's victim has a state of its own there."""
    return mine._replace(state=mine.state.replace("40P01", "40001")) == theirs._replace(
        state=theirs.state.replace("40P01", "40001")
    )


# ---- SERIALIZABLE, here alone ---------------------------------------------------------------------------------------


def serial(chance: random.Random) -> tuple[int, str]:
    """One transaction of each session: what was committed is what an order of them one after the other brings about."""
    here = Here("SERIALIZABLE")
    waiting: set[str] = set()
    log: dict[str, list[tuple[str, Told]]] = {name: [] for name in NAMES}
    ended: dict[str, bool] = {}
    asked: dict[str, str] = {}
    order = [(n, t) for n, t in statements(chance) if t not in ("COMMIT", "ROLLBACK")]
    for name, text in [*order, *((name, "COMMIT") for name in NAMES * 2)]:
        if name in waiting or name in ended:
            continue
        asked[name] = text
        for who, told in here.run(name, text).items():
            waiting.discard(who)
            if told.waits:
                waiting.add(who)
                continue
            log[who].append((asked[who], told))
            if told.state[:2] == "40" or asked[who] == "COMMIT":
                ended[who] = not told.state
    committed = [name for name in NAMES if ended.get(name)]
    final = here.rows()
    logs = [f"{name}: {log[name]}" for name in NAMES]
    for sequence in permutations(committed):
        again = Here("SERIALIZABLE")
        if all(again.run(name, text)[name] == seen for name in sequence for text, seen in log[name]):
            if again.rows() == final:
                return len(order), ""
    return len(order), "\n".join(["SERIALIZABLE: no order of the committed ones gives this", *logs, f"  rows {final}"])


def sessions(connect: Callable[[], Any], count: int, seed: int, complain: Callable[[str], None]) -> int:
    """Cases of two sessions, until so many statements have been run."""
    done = 0
    while done < count:
        number, told = compared(connect, seed)
        if told:
            complain(f"sessions {seed}: {told}")
        done += number
        seed += 1
    return done
