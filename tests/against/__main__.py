"""python -m against [COUNT] [SEED] [WHAT...]: random statements here and in the servers that are installed.

COUNT statements are shared out between queries, changes, definitions, dates and times, functions, and two sessions at once (beside PostgreSQL) and routines (beside
MariaDB); WHAT names some of these. What came out otherwise is printed with its seed; `make cross` starts it.
"""

from __future__ import annotations

import re
import signal
import sys
import time
from collections.abc import Callable
from contextlib import AbstractContextManager
from datetime import timedelta
from decimal import Decimal
from typing import Any, NamedTuple

from against import two
from against.changes import Chain, Changer, Viewer
from against.definitions import Definer
from against.firing import Firer
from against.functions import SCHEMA as FUNCTIONS
from against.functions import Functions, there
from against.moments import SCHEMA as MOMENTS
from against.moments import Moments
from against.queries import SCHEMA, Maker, rows
from against.reduce import reduced
from against.routines import CLOSED_THERE, Writer
from against.routines import SCHEMA as ROUTINE_SCHEMA
from against.servers import another, mariadb, postgres
from against.shapes import SPELLED, Shapes
from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.values.conversion import text_of
from glimb.engine.values.types import Type
from glimb.lang.parser import parse
from glimb.lang.source import Source

SAME_CLASS = re.compile("23|22|21|44|45|42807|0A000")
AT_ONCE = 20_000
"""So many statements are asked of one server: one that ends does not end the run."""
ENDLESS = "70100"
"""The state of a statement that has taken too long there."""
Complaint = Callable[[str], None]


class Here:
    """A session of this engine."""

    def __init__(self) -> None:
        self.engine = Engine()

    def run(self, text: str) -> Outcome:
        source = Source(text)
        parsed = parse(source)
        if parsed.problems:
            raise AssertionError(f"{parsed.problems[0].brief()}: {text}")
        outcome: Outcome | None = None
        for statement in parsed.statements:
            outcome = self.engine.execute(self.engine.session("main"), statement, source)[0]
            if outcome.failure is not None:
                return outcome
        assert outcome is not None
        return outcome

    def rows(self, text: str) -> list[tuple[Any, ...]]:
        return shown_here(self.run(text))


def shown_here(outcome: Outcome) -> list[tuple[Any, ...]]:
    types = [c.type for c in outcome.columns]
    return sorted(
        (tuple(_here(v, t) for v, t in zip(row, types, strict=False)) for row in outcome.rows or []), key=repr
    )


def _here(value: Any, type_: Type) -> Any:
    if value is None or isinstance(value, bool):
        return value
    if type_.is_number:
        return _number(Decimal(text_of(value, type_)))
    if type_.kind == "micros":
        return str(timedelta(microseconds=value))
    if type_.kind in ("time", "timestamp"):
        return str(value)
    return text_of(value, type_)


def _number(value: Decimal) -> str:
    return format(value.normalize() + 0, "f")


def shown_there(found: list[Any]) -> list[tuple[Any, ...]]:
    return sorted((tuple(_there(v) for v in row) for row in found), key=repr)


def _there(value: Any) -> Any:
    if value is None or isinstance(value, bool):
        return value
    if isinstance(value, bytes):
        return value.hex().upper()
    return _number(Decimal(str(value))) if isinstance(value, int | float | Decimal) else str(value)


class GoneError(Exception):
    """A server has ended."""


class Peer:
    """A connection to a server: rows, or the SQLSTATE of what went wrong."""

    def __init__(self, connection: Any) -> None:
        self.connection = connection
        self.cursor = connection.cursor()

    def run(self, text: str) -> list[tuple[Any, ...]] | str:
        try:
            self.cursor.execute(text)
            return shown_there(list(self.cursor.fetchall())) if self.cursor.description else []
        except Exception as error:
            if error.args[:1] in ((0,), (2006,), (2013,)):
                raise GoneError(f"the server has gone with: {text}") from None
            state = getattr(error, "sqlstate", None)
            return str(state or error)


# ---- queries --------------------------------------------------------------------------------------------------------


def queries(peer: Peer, count: int, seed: int, complain: Complaint, make: type[Maker] = Maker) -> int:
    """So many queries, over fresh rows every 200."""
    done = 0
    while done < count:
        maker = make(seed)
        here = Here()
        peer.run("DROP SCHEMA IF EXISTS q CASCADE")
        peer.run("CREATE SCHEMA q")
        peer.run("SET search_path = q")
        for text in [*SCHEMA.split(";")[:-1], *rows(maker.chance)]:
            found = peer.run(text)
            failure = here.run(text).failure
            assert found == [], (text, found)
            assert failure is None, (text, failure)
        here.run("COMMIT")
        for number in range(200):
            text = maker.statement()
            same_rows(here, peer, text, f"{make.__name__} {seed} {number}", complain)
        done += 200
        seed += 1
    return done


def shapes(peer: Peer, count: int, seed: int, complain: Complaint) -> int:
    """The same with queries of other shapes."""
    return queries(peer, count, seed, complain, Shapes)


def same_rows(here: Here, peer: Peer, text: str, name: str, complain: Complaint) -> None:
    if "LAST_VALUE(" in text and "EXCLUDE TIES" in text:
        return  # the peer gives NULL where the last row of the frame is such a tie; SQLite has the row before it, as here
    theirs = peer.run(SPELLED.sub(r"\2", text))
    try:
        outcome = here.run(SPELLED.sub(r"\1", text).replace("BOOL_OR(", "SOME("))
    except AssertionError as error:
        complain(f"{name}: {error}")
        return
    if outcome.failure is not None:
        state = outcome.failure.sqlstate
        if state == "21000" and not isinstance(theirs, str):
            return  # a value that is not needed for any row need not be computed
        if not isinstance(theirs, str) or (
            state != theirs and not (SAME_CLASS.match(state) and state[:2] == theirs[:2])
        ):
            complain(f"{name}: {state} {outcome.failure.message}, there {str(theirs)[:200]}\n{text}")
    elif isinstance(theirs, str):
        if theirs != "42803" or " + 1)" not in text:  # the peer knows keys in subqueries by columns only
            complain(f"{name}: taken here, there {theirs}\n{text}")
    elif shown_here(outcome) != theirs:
        complain(f"{name}: {shown_here(outcome)[:6]} here, {theirs[:6]} there\n{text}")


# ---- changes --------------------------------------------------------------------------------------------------------


def definitions(peer: Peer, count: int, seed: int, complain: Complaint) -> int:
    """The same with ALTER TABLE and views between the changes."""
    return changes(peer, count, seed, complain, (Definer,))


def changes(
    peer: Peer,
    count: int,
    seed: int,
    complain: Complaint,
    makers: tuple[type[Changer], ...] = (Changer, Chain, Viewer, Firer),
) -> int:
    """So many changes, with fresh tables every 120."""
    done = 0
    while done < count:
        changer, here = makers[seed % len(makers)](seed), Here()
        schema = changer.schema()
        peer.run("ROLLBACK")
        peer.run("DROP SCHEMA IF EXISTS c CASCADE")
        peer.run("CREATE SCHEMA c")
        peer.run("SET search_path = c")
        for text in schema.format(stored="STORED").split(";\n"):
            assert peer.run(text) == [], (text, peer.run(text))
        for text in filter(None, changer.triggers()["there"].split(";\nCREATE")):
            made = text if text.strip().startswith("CREATE") else "CREATE" + text
            assert peer.run(made) == [], made
        failure = here.run(schema.format(stored="") + ";" + changer.triggers()["here"] + "; COMMIT").failure
        assert failure is None, failure
        peer.run("BEGIN")
        for number in range(120):
            text = changer.statement()
            name = f"changes {seed} {number}"
            if not same_change(here, peer, text, name, (*changer.TABLES, *changer.VIEWS), complain):
                break
        done += 120
        seed += 1
    return done


def same_change(here: Here, peer: Peer, text: str, name: str, tables: tuple[str, ...], complain: Complaint) -> bool:
    """Whether a change did the same in both: its own failure, or the rows that there are now."""
    steering = text.startswith(("SAVEPOINT", "ROLLBACK", "RELEASE", "COMMIT"))
    if not steering:
        peer.run("SAVEPOINT statement")
    theirs = peer.run(text.replace("{stored}", "STORED"))
    if not steering:
        peer.run("ROLLBACK TO SAVEPOINT statement" if isinstance(theirs, str) else "RELEASE SAVEPOINT statement")
    if text in ("COMMIT", "ROLLBACK"):
        peer.run("BEGIN")
    failure = here.run(text.replace("{stored}", "")).failure
    state = failure.sqlstate if failure is not None else ""
    other = theirs if isinstance(theirs, str) else ""
    both = bool(state and other)  # which of several faults is found first is not ours to say
    if not state and (other == "0A000" or (other in ("22003", "22001") and text.startswith("UPDATE"))):
        return False  # the peer changes no type that a column is computed from, and reads constants that no row takes
    if other == "23505" and not state and text.startswith(("UPDATE", "MERGE")):
        return False  # the peer looks at keys row by row, not at the end of the statement
    if text == "COMMIT" and state == "40002" and other.startswith("23"):
        state = other  # what was deferred is not met
    defines = text.startswith(("ALTER", "CREATE", "DROP"))  # and which state tells what cannot be defined
    if state != other and not (both and (defines or (SAME_CLASS.match(state) and SAME_CLASS.match(other)))):
        complain(f"{name}: {state} {failure.message if failure else ''} here, {other} there\n{text}")
        return False
    for table in (*tables, "log"):
        peer.run("SAVEPOINT looking")
        mine, found = here.rows(f"SELECT * FROM {table}"), peer.run(f"SELECT * FROM {table}")
        peer.run("ROLLBACK TO SAVEPOINT looking")
        if mine != ([] if found == "42P01" else found):
            complain(f"{name}: {table} {mine} here, {found} there\n{text}")
            return False
    return True


# ---- moments --------------------------------------------------------------------------------------------------------


def moments(
    peer: Peer,
    count: int,
    seed: int,
    complain: Complaint,
    make: Callable[[int], Moments | Functions] = Moments,
    schema: str = MOMENTS,
) -> int:
    """So many queries over dates, times and intervals, with fresh rows every 200."""
    done = 0
    while done < count:
        made, here = make(seed), Here()
        for text in ("DROP SCHEMA IF EXISTS e CASCADE", "CREATE SCHEMA e", "SET search_path = e"):
            peer.run(text)
        for text in (schema, *made.rows()):
            assert peer.run(there(text)) == [], text
            assert here.run(text).failure is None, text
        here.run("COMMIT")
        for number in range(200):
            same_moments(here, peer, made.query(), f"{make.__name__} {seed} {number}", complain)
        done += 200
        seed += 1
    return done


def functions(peer: Peer, count: int, seed: int, complain: Complaint) -> int:
    """The same with calls of functions."""
    return moments(peer, count, seed, complain, Functions, FUNCTIONS)


def same_moments(here: Here, peer: Peer, text: str, name: str, complain: Complaint) -> None:
    theirs = peer.run(there(text))
    ours = here.run(text)
    if ours.failure is not None and not isinstance(theirs, str) and all(row[-1] is None for row in theirs):
        return  # of NULL nothing need be computed
    if ours.failure is not None and ours.failure.sqlstate == "22008" and not isinstance(theirs, str):
        return  # there a day that a month does not have is moved to one that it has
    if ours.failure is not None or isinstance(theirs, str):
        if ours.failure is None or ours.failure.sqlstate != str(theirs).replace("22P02", "22018"):
            complain(f"{name}: {ours.failure} here, {str(theirs)[:200]} there\n{text}")
    elif shown_here(ours) != theirs:
        complain(f"{name}: {shown_here(ours)[:6]} here, {theirs[:6]} there\n{text}")


# ---- routines -------------------------------------------------------------------------------------------------------


def routines(peer: Peer, count: int, seed: int, complain: Complaint) -> int:
    """Procedures and functions, until so many of their statements have been run here (27 in each, on average); each is
    called twice. What differs is made smaller."""
    peer.run("CREATE DATABASE IF NOT EXISTS cross_check")
    peer.run("USE cross_check")
    peer.run("SET sql_mode = 'TRADITIONAL'")
    peer.run("SET max_statement_time = 5")
    for text in ("DROP TABLE IF EXISTS r", "DROP TABLE IF EXISTS trace", *ROUTINE_SCHEMA):
        assert peer.run(text) == [], text
    here, done = Here(), 0
    here.run("; ".join(ROUTINE_SCHEMA))
    here.run("COMMIT")
    while done < count:
        kind = FUNCTION if seed % 3 == 0 else PROCEDURE
        body = Writer(seed, kind is FUNCTION).body()
        told = other_end(here, peer, kind, body)
        if told:
            smaller = reduced(body, ends_like(here, peer, kind, told))
            complain(f"routines {seed}: {told}\n{smaller}\nof {body}")
        seed += 1
        done += 2 * CLOSED_THERE.sub("", body).count(";")
    return done


class Kind(NamedTuple):
    """A kind of routine: what it is, its signature, and how it is called."""

    name: str
    signature: str
    call: str


PROCEDURE = Kind("PROCEDURE", "p()", "CALL p()")
FUNCTION = Kind("FUNCTION", "f() RETURNS INTEGER", "SELECT f()")


def ends_like(here: Here, peer: Peer, kind: Kind, told: str) -> Callable[[str], bool]:
    """Whether another body ends here and there as this one did."""
    return lambda body: other_end(here, peer, kind, body).split("\n")[0] == told.split("\n")[0]


def other_end(here: Here, peer: Peer, kind: Kind, body: str) -> str:
    """What comes out otherwise here than there when a routine is called twice, or nothing."""
    peer.run(f"DROP {kind.name} IF EXISTS {kind.signature[0]}")
    there = peer.run(f"CREATE {kind.name} {kind.signature} {body}")
    body = CLOSED_THERE.sub("", body)
    try:
        made = here.run(f"CREATE OR REPLACE {kind.name} {kind.signature} MODIFIES SQL DATA {body}").failure
    except AssertionError as error:
        return "" if isinstance(there, str) else f"refused here: {error}"
    if isinstance(there, str) or made is not None:
        return "" if isinstance(there, str) and made is not None else f"refused here: {made}, there: {there}"
    return other_call(here, peer, kind.call) or other_call(here, peer, kind.call)


def other_call(here: Here, peer: Peer, call: str) -> str:
    for text in ("DELETE FROM r", "DELETE FROM trace", "INSERT INTO r VALUES (1, 1), (2, NULL), (3, 3)"):
        here.run(text)
        peer.run(text)
    here.run("COMMIT")
    peer.run("BEGIN")
    theirs = peer.run(call)
    if theirs == ENDLESS:
        peer.run("ROLLBACK")
        return "does not end there"
    ours = here.run(call)
    state = ours.failure.sqlstate if ours.failure is not None else ""
    other = theirs if isinstance(theirs, str) else ""
    both = [] if state or other else [(shown_here(ours), theirs)]
    both += [(here.rows(f"SELECT * FROM {t}"), peer.run(f"SELECT * FROM {t}")) for t in ("r", "trace")]
    peer.run("COMMIT")
    here.run("COMMIT")
    if bool(state) == bool(other) and all(mine == found for mine, found in both):
        return ""
    shown = "\n".join(f"  {mine} here, {found} there" for mine, found in both)
    return f"{state} here, {other[:60]} there\n{shown}"


def sessions(peer: Peer, count: int, seed: int, complain: Complaint) -> int:
    """Statements of two sessions at once, each with a connection of its own."""
    info = peer.connection.info
    return two.sessions(lambda: another(info.host, info.user, info.dbname), count, seed, complain)


KINDS: dict[
    str, tuple[Callable[[], AbstractContextManager[Any]], Callable[[Peer, int, int, Complaint], int], float]
] = {
    "queries": (postgres, queries, 0.1),
    "shapes": (postgres, shapes, 0.05),
    "changes": (postgres, changes, 0.22),
    "definitions": (postgres, definitions, 0.05),
    "moments": (postgres, moments, 0.05),
    "functions": (postgres, functions, 0.05),
    "sessions": (postgres, sessions, 0.03),
    "routines": (mariadb, routines, 0.6),
}


def main() -> int:
    signal.signal(signal.SIGTERM, lambda number, frame: sys.exit(128 + number))  # so that the servers end too
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 2_000
    seed = int(sys.argv[2]) if len(sys.argv) > 2 else 1
    wanted = sys.argv[3:] or list(KINDS)
    share = sum(KINDS[k][2] for k in wanted)
    bad = 0

    def complain(text: str) -> None:
        nonlocal bad
        bad += 1
        print(text, flush=True)

    for kind in wanted:
        server, run, part = KINDS[kind]
        most, done, started = int(count * part / share), 0, time.perf_counter()
        for number, first in enumerate(range(0, most, AT_ONCE)):
            with server() as connection:
                if connection is None:
                    print(f"{kind}: left out, {server.__name__} or its client is not installed")
                    break
                if kind == "routines":
                    connection.autocommit(True)
                try:
                    done += run(Peer(connection), min(AT_ONCE, most - first), seed + number * 1_000, complain)
                except GoneError as error:
                    print(f"{kind}: {error}", flush=True)
        if done:
            print(f"{kind}: {done:,} statements from seed {seed}, {time.perf_counter() - started:.0f} s", flush=True)
    print(f"{bad} differences")
    return min(bad, 1)


if __name__ == "__main__":
    sys.exit(main())
