"""Weaving: all interleavings of the sessions of a case, statement by statement, from one fixture, grouped by how they
end.

Orders are not tried one by one. What has been run of two orders is merged as soon as both have led to the same state
with the same outcomes: whatever follows is then the same, and is tried once, for as many orders as lead there. So
statements that cannot influence one another are not tried in both orders, and nothing is taken on trust about which
these are: the state says it. A state is what can make a difference later: changed rows, open transactions with their
logs, snapshots and reads, locks and queues, sequences, the catalog, and for a session that waits, the states in which
its statement began and went on.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Iterable, Iterator
from hashlib import blake2b
from itertools import groupby
from math import factorial, prod
from pathlib import Path
from typing import Any, NamedTuple

from glimb.engine.engine import Engine
from glimb.engine.outcomes.outcome import Outcome
from glimb.engine.storage.changes import Change, net_changes
from glimb.engine.storage.resources import singly
from glimb.engine.storage.table import Table
from glimb.engine.transactions.session import Session
from glimb.engine.transactions.sight import FOREVER
from glimb.engine.values.conversion import literal_of
from glimb.lang.problem import ProblemError
from glimb.lang.source import Source
from glimb.suite.asking import Asker
from glimb.suite.driver import Driver, Executable
from glimb.suite.runner import Runner
from glimb.suite.script import MAIN, Case, Let, StampStep, StatementStep, Turn, read_script
from glimb.suite.weave_web import START, Done, Ended, Order, Web


class Group:
    """Orders that end alike: how many they are, the first of them, whether a `holds` condition was not met."""

    def __init__(self, ended: Ended, order: Order) -> None:
        self.ended = ended
        self.order = order
        self.count = 0

    @property
    def broken(self) -> bool:
        """Whether a condition that should hold does not."""
        return any(d.digest[-1] for _, dones, _ in self.ended.sessions for d in dones)


class Node(NamedTuple):
    """Orders that have led to one state: how many, one of them, and where waiting sessions came from."""

    order: Order
    ways: int
    origins: tuple[tuple[str, str], ...]


class Step(NamedTuple):
    """What one more statement leads to: the session, the state, origins of waits; `ended` when nothing can follow."""

    session: str
    state: str
    origins: tuple[tuple[str, str], ...]
    ended: Ended | None


class Loom:
    """A case ready to be woven: runs any order of its sessions' statements."""

    def __init__(self, engine: Engine, source: Source, case: Case) -> None:
        self.engine = engine
        self.source = source
        self.case = case
        self.first = [s for s in case.setup if isinstance(s, Turn | StatementStep | Let | StampStep)]
        self.settings: list[Turn] = []
        self.threads: dict[str, list[StatementStep]] = {}
        """Statements by session. Those of the session `main` that come before any other session run first, always."""
        self.lets: dict[tuple[str, int], list[Let]] = {}
        """Host variables that are set before a statement, by its session and number in it."""
        before = True
        for step in case.steps:
            before = before and not (isinstance(step, Turn) and step.session != MAIN)
            if isinstance(step, Turn):
                self.settings.append(step)
            elif isinstance(step, StampStep) or (
                isinstance(step, StatementStep | Let) and before and case.sessions() != [MAIN]
            ):
                self.first.append(step)  # rows that are stamped are there before anybody acts
            elif isinstance(step, Let):
                self.lets.setdefault((step.session, len(self.threads.get(step.session, ()))), []).append(step)
            elif isinstance(step, StatementStep):
                self.threads.setdefault(step.session, []).append(step)
        self.dones: dict[str, list[Done]] = {}
        self.at: dict[str, int] = {}
        self.driver = Driver(engine, source)
        self._prepare()
        self.version = engine.catalog.version
        self.on_outcome: Callable[[str, Executable, Outcome], None] | None = None

    @property
    def orders(self) -> int:
        """How many orders there are: the multinomial of the statements."""
        counts = [len(t) for t in self.threads.values()]
        return factorial(sum(counts)) // prod(factorial(c) for c in counts)

    # -- running

    def _prepare(self) -> None:
        """Do once what comes before the sessions, and make it the base: setup, and the first statements of `main`."""
        engine = self.engine
        engine.reset()
        driver = Driver(engine, self.source)
        for step in self.first:
            driver.run(step)
        for session in engine.sessions.values():
            if session.active:
                session.commit()
        self.hosts = dict(engine.shared.hosts)
        engine.sessions.clear()
        engine.set_base()

    def start(self) -> None:
        """From the fixture, with what comes before the sessions."""
        self.engine.reset()
        self.driver = Driver(self.engine, self.source)
        self.driver.start(self.case.clock, self.case.model)
        self.engine.shared.hosts.update(self.hosts)
        for turn in self.settings:
            self.driver.run(turn)
        self.dones = {name: [] for name in self.threads}
        self.at = dict.fromkeys(self.threads, 0)

    def can_go(self) -> list[str]:
        """Sessions whose next statement can be run now."""
        return [n for n, t in self.threads.items() if n not in self.waiting and self.at[n] < len(t)]

    def step(self, name: str) -> None:
        """Run the next statement of a session."""
        thread = self.threads[name][self.at[name]]
        for step in self.lets.get((name, self.at[name]), ()):
            self.driver.run(step)
        self.at[name] += 1
        for told in self.driver.run(thread):
            self._note(told.step, told.outcome)

    @property
    def waiting(self) -> dict[str, Executable]:
        """The statement in which each session waits."""
        return self.driver.waiting

    def _note(self, step: Executable, outcome: Outcome) -> None:
        name = step.session
        if outcome.waiting is None:
            self.dones[name].append(self._done(name, step, outcome))
        if self.on_outcome is not None:
            self.on_outcome(name, step, outcome)

    def _done(self, name: str, step: Executable, outcome: Outcome) -> Done:
        failed = tuple(
            e.text
            for e in step.expectations
            if e.kind == "holds" and not Asker(self.engine, name, outcome).holds(e.says.text)[0]
        )
        rows = None if outcome.rows is None else tuple(tuple(r[: len(outcome.columns)]) for r in outcome.rows)
        state = outcome.failure.sqlstate if outcome.failure is not None else ""
        ended = tuple(e.kind for e in outcome.events if e.ends)
        out = tuple(value for _, _, value in outcome.out)
        more = tuple(tuple(rows) for _, rows in outcome.more)
        digest = (state, rows, more, outcome.row_count, out, tuple(outcome.notes), ended, failed)
        return Done(digest, _words(outcome, state, ended, failed))

    def replay(self, order: Order) -> None:
        self.start()
        for name in order:
            self.step(name)

    # -- states

    def expand(self, node: Node) -> list[Step]:
        """Every statement that can come next, and what it leads to."""
        self.replay(node.order)
        before = self.state(dict(node.origins))
        found = []
        for number, name in enumerate(self.can_go()):
            if number:
                self.replay(node.order)
            was = {n: self.engine.sessions[n].claims.waiting for n in self.waiting}
            self.step(name)
            origins = {n: o for n, o in node.origins if n in self.waiting}
            for other in self.waiting:
                if was.get(other) is not self.engine.sessions[other].claims.waiting:
                    origins[other] = _hash((origins.get(other), before, name))
            ended = None if self.can_go() else self.ended()
            found.append(Step(name, self.state(origins), tuple(sorted(origins.items())), ended))
        return found

    def state(self, origins: dict[str, str]) -> str:
        """A digest of all that can make a difference to what follows."""
        engine = self.engine
        committed = [e for _, entries in engine.shared.history.commits for e in entries]
        touched: dict[Table, set[int]] = {}
        for entries in (committed, *(s.log for s in engine.sessions.values())):
            for where, key, _, _ in entries:
                if isinstance(where, Table):
                    touched.setdefault(where, set()).add(key)
        rows = [
            (table.name, table.private_to, self._place(table, key), self._content(table.rows.get(key)))
            for table, keys in touched.items()
            for key in sorted(keys)
        ]
        ticks = sorted({s.sight.began for s in engine.sessions.values()} | {c.ended for c in self._certified()})
        parts = (
            sorted(rows, key=repr),
            [(n, self._session(s, ticks)) for n, s in sorted(engine.sessions.items())],
            self._queues(),
            [q.next for q in engine.catalog.all_sequences()],
            engine.catalog.version - self.version,
            sorted((n, str(h.type), h.value) for n, h in engine.shared.hosts.items()),
            [
                (ticks.index(c.ended), self._reads(c.reads), self._entries(c.entries), c.has_read, c.is_read)
                for c in self._certified()
            ],
            sorted(self.at.items()),
            sorted(origins.items()),
            [(n, [d.digest for d in dones]) for n, dones in sorted(self.dones.items())],
        )
        return _hash(parts)

    def _certified(self) -> list[Any]:
        return getattr(self.engine.shared.model, "certified", [])

    def _place(self, table: Table, row_id: int) -> Any:
        """What stands for a row id: itself in the fixture; of a new row its place among the new ones."""
        first = self.engine.first_new_id(table)
        if row_id < first:
            return row_id
        return "new", sorted(k for k in table.rows if k >= first).index(row_id) if row_id in table.rows else -1

    @staticmethod
    def _content(row: Any) -> Any:
        return row[:-1] if row is not None else None

    def _entries(self, entries: Iterable[Any]) -> list[Any]:
        found: list[Any] = []
        for where, key, before, after in entries:
            if isinstance(where, Table):
                found.append(
                    (where.name, where.private_to, self._place(where, key), self._content(before), self._content(after))
                )
            else:
                found.append((type(where).__name__, str(key)))
        return found

    def _reads(self, reads: dict[Any, Any] | None) -> Any:
        if reads is None:
            return None
        shown = {
            t.name: True
            if keys is True
            else sorted((n, sorted(map(repr, k.keys)), sorted(map(repr, k.ranges))) for n, k in keys.items())
            for t, keys in reads.items()
        }
        return sorted(shown.items(), key=repr)

    def _resource(self, resource: Any) -> Any:
        table, key = resource
        is_row_id = key is not None and table.primary is None and isinstance(key, int)
        return table.name, self._place(table, key) if is_row_id else repr(key)

    def _session(self, session: Session, ticks: list[int]) -> Any:
        seen = None
        if session.sight.snapshot != FOREVER:
            commits = self.engine.shared.history.since(session.sight.snapshot)
            seen = [self._entries(entries) for _, entries in reversed(list(commits))]
        held = sorted(((self._resource(r), m) for r, m in singly(session.claims.held.items())), key=repr)
        wait = session.claims.waiting
        return (
            (session.active, session.explicit, session.current, session.schema),
            (session.coming, session.usual, session.autocommit, session.savepoints.points),
            sorted((str(name), source[node.span]) for name, (node, source) in session.dynamic.prepared.items()),
            sorted((name, descriptor.content()) for name, descriptor in session.dynamic.descriptors.items()),
            [(n, c.is_open, c.below, c.above, c.rows) for n, c in sorted(session.dynamic.cursors.items())],
            self._entries(session.log),
            (seen, self._reads(session.sight.reads), ticks.index(session.sight.began)),
            held,
            (self._resource(wait.resource), wait.mode) if wait is not None else None,
            sorted(map(repr, session.deferred.modes.items())),
        )

    def _queues(self) -> Any:
        locks = self.engine.shared.locks.locks.items()
        queues = [(self._resource(r), [(q.session.name, q.mode) for q in k.queue]) for r, k in locks if k.queue]
        return sorted(queues, key=repr)

    # -- ends

    def ended(self) -> Ended:
        """How the order that has been run ends."""
        sessions = []
        for name in self.threads:
            session = self.engine.session(name)
            state = "still waits" if session.claims.waiting is not None else "open" if session.active else "ended"
            sessions.append((name, tuple(self.dones[name]), state))
        entries = [e for _, found in self.engine.shared.history.commits for e in found]
        entries += [e for s in self.engine.sessions.values() for e in s.log]
        changes = sorted(_change_words(c) for c in net_changes(entries) if c.before != c.after)
        return Ended(tuple(sessions), tuple(changes))


def _change_words(change: Change) -> str:
    """A net change of a row, in words that do not depend on row ids."""
    table = change.table
    before, after = (
        {c.name: literal_of(v, c.type) for c, v in zip(table.columns, row, strict=False)} if row is not None else None
        for row in (change.before, change.after)
    )
    if before is None or after is None:
        cells = ", ".join((before or after or {}).values())
        return f"{table.name} {'+' if before is None else '-'}({cells})"
    key = f"({', '.join(before[table.columns[c].name] for c in table.primary.columns)})" if table.primary else "row"
    changed = [f"{name} {before[name]} -> {after[name]}" for name in before if before[name] != after[name]]
    return f"{table.name} {key} {', '.join(changed)}"


def _words(outcome: Outcome, state: str, ended: tuple[str, ...], failed: tuple[str, ...]) -> str:
    parts = [state] if state else []
    if outcome.rows is not None:
        shown = (
            ", ".join(literal_of(v, c.type) for v, c in zip(row, outcome.columns, strict=False)) for row in outcome.rows
        )
        parts.append(next(shown) if len(outcome.rows) == 1 else f"{len(outcome.rows)} rows")
    elif outcome.row_count is not None and not state:
        parts.append(f"{outcome.row_count} changed")
    parts += [f"{name} = {literal_of(value, type_)}" for name, type_, value in outcome.out]
    parts += [f"note {n}" for n in outcome.notes]
    parts += [f"does not hold: {f}" for f in failed]
    parts += ["committed" if e == "commit" else "rolled back" for e in ended]
    return " ".join(parts) or "done"


def _hash(value: Any) -> str:
    return blake2b(repr(value).encode(), digest_size=16).hexdigest()


# ---- searching ------------------------------------------------------------------------------------------------------


class Weave:
    """What weaving a case has shown so far."""

    def __init__(self, loom: Loom, web: Web | None = None) -> None:
        self.loom = loom
        self.web = web
        """The merged states, where they are wanted."""
        self.groups: dict[Ended, Group] = {}
        self.runs = 0
        """How many times statements were run from the fixture on."""
        self.complete = False
        self.stopped = False
        """Whether somebody did not want to wait for the rest."""

    def add(self, ended: Ended, order: Order, count: int) -> None:
        group = self.groups.get(ended)
        if group is None:
            group = self.groups[ended] = Group(ended, order)
        if (len(order), order) < (len(group.order), group.order):
            group.order = order
        group.count += count

    @property
    def covered(self) -> int:
        """How many orders are in the groups."""
        return sum(g.count for g in self.groups.values())

    def ranked(self) -> list[Group]:
        """Groups, the most frequent first."""
        return sorted(self.groups.values(), key=lambda g: (-g.count, g.order))


Expander = Callable[[list[Node]], Iterable[tuple[Node, list[Step]]]]


def weave(loom: Loom, expander: Expander | None = None, web: Web | None = None) -> Iterator[Weave]:
    """Try all orders, merged by their states, which `web` takes down; gives the weave after every round of one more
    statement."""
    woven = Weave(loom, web)

    def alone(nodes: list[Node]) -> Iterator[tuple[Node, list[Step]]]:
        for node in nodes:
            yield node, loom.expand(node)

    level, numbers = [Node((), 1, ())], [START]
    while level:
        merged: dict[str, Node] = {}
        found: dict[str, int] = {}
        for (node, steps), number in zip((expander or alone)(level), numbers, strict=True):
            woven.runs += max(1, len(steps))
            for step in steps:
                order = (*node.order, step.session)
                if web is not None:
                    made = order.count(step.session)
                    found[step.state] = web.add(number, step.session, made, step.state, step.ended)
                if step.ended is not None:
                    woven.add(step.ended, order, node.ways)
                    continue
                known = merged.get(step.state)
                ways = node.ways + (known.ways if known is not None else 0)
                first = known.order if known is not None else order
                merged[step.state] = Node(first, ways, step.origins)
        level, numbers = list(merged.values()), [found.get(state, START) for state in merged]
        yield woven
    woven.complete = True
    yield woven


def weave_plainly(loom: Loom) -> Weave:
    """Try every order by itself, without merging: to compare with."""
    woven = Weave(loom)

    def deeper(order: Order) -> None:
        loom.replay(order)
        ready = loom.can_go()
        if not ready:
            woven.runs += 1
            woven.add(loom.ended(), order, 1)
        for name in ready:
            deeper((*order, name))

    deeper(())
    woven.complete = True
    return woven


def weave_some(loom: Loom, count: int, seed: int) -> Iterator[Weave]:
    """Try orders chosen at random; each is counted once, however often it is drawn."""
    woven, chance = Weave(loom), random.Random(seed)
    seen: set[Order] = set()
    for _ in range(count):
        loom.start()
        order: list[str] = []
        while ready := loom.can_go():
            weights = [len(loom.threads[n]) - loom.at[n] for n in ready]
            order.append(chance.choices(ready, weights)[0])
            loom.step(order[-1])
        woven.runs += 1
        if tuple(order) not in seen:
            seen.add(tuple(order))
            woven.add(loom.ended(), tuple(order), 1)
        yield woven


def order_text(order: Order) -> str:
    """An order in short: `desk 1-2, phone 1, desk 3`."""
    at: dict[str, int] = {}
    parts = []
    for name, run in groupby(order):
        count = len(list(run))
        first = at.get(name, 0) + 1
        at[name] = first + count - 1
        parts.append(f"{name} {first}" + (f"-{at[name]}" if count > 1 else ""))
    return ", ".join(parts)


def make_loom(path: Path, title: str) -> Loom:
    """A loom for a case of a script; ProblemError when something is wrong with either."""
    script = read_script(path)
    case = next(c for c in script.cases if c.title == title)
    if script.problems or case.problems:
        raise ProblemError(*script.problems, *case.problems)
    runner = Runner()
    project = runner.project(script.path)
    return Loom(runner.world(project, case.fixture or project.settings.default_fixture), script.source, case)
