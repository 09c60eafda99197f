"""A weave as text: its groups, how each ends, and one order of each; and a group kept as a script."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from glimb.engine.outcomes.outcome import Outcome
from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.report.text import plural, table_lines
from glimb.suite.driver import Executable
from glimb.suite.expectations.pinning import pinned
from glimb.suite.script import Let, StampStep, StatementStep
from glimb.suite.weave import Group, Loom, Weave, order_text


def weave_lines(weave: Weave) -> Iterator[str]:
    """All groups, the most frequent first."""
    groups = weave.ranked()
    loom = weave.loom
    yield f"{loom.case.title}: {plural(loom.orders, 'order')} of {_threads(loom)}"
    kind = "all" if weave.complete else "not all"
    skipped = loom.orders - weave.covered
    verb = "is" if skipped == 1 else "are"
    waits = f"; {skipped:,} {verb} kept from happening by waits" if weave.complete and skipped > 0 else ""
    tried = f"{plural(weave.covered, 'order')}, {kind} of them tried in {plural(weave.runs, 'run')}"
    yield f"{tried}{waits}: {plural(len(groups), 'way')} to end"
    for number, group in enumerate(groups, 1):
        yield ""
        yield from _group_lines(number, group, weave.covered)


def _threads(loom: Loom) -> str:
    return ", ".join(f"{name} ({len(thread)})" for name, thread in loom.threads.items())


def _group_lines(number: int, group: Group, total: int) -> Iterator[str]:
    share = 100 * group.count / total if total else 0
    broken = "  does not hold" if group.broken else ""
    yield f"group {number}: {plural(group.count, 'order')}, {share:.1f} %{broken}"
    yield f"  such as {order_text(group.order)}"
    rows = [[name, *(d.shown for d in dones), state] for name, dones, state in group.ended.sessions]
    width = max(len(r) for r in rows)
    header = ["", *(str(n) for n in range(1, width - 1)), "transaction"]
    padded = [[*r[:-1], *([""] * (width - len(r))), r[-1]] for r in rows]
    yield from (f"  {line}" for line in table_lines(header, padded))
    if group.ended.changes:
        shown = "; ".join(group.ended.changes[:4])
        more = f"; and {len(group.ended.changes) - 4} more" if len(group.ended.changes) > 4 else ""
        yield f"  rows: {shown}{more}"
    else:
        yield "  rows: as in the fixture"


def is_kept_order(path: Path, weave: Weave) -> bool:
    """Whether a group's order can take this file's place: it is not there, or holds an order of the same case."""
    if not path.is_file() or not path.stat().st_size:
        return True
    text = path.read_bytes().decode(errors="replace")
    return text.startswith(f"--# case {weave.loom.case.title} (") and text.count("--# case ") == 1


def kept_script(weave: Weave, number: int) -> str:
    """A group as a script: one order of it, with what each statement did as expectations."""
    group, loom = weave.ranked()[number - 1], weave.loom
    case = loom.case
    lines = [f"--# case {case.title} ({order_text(group.order)})"]
    if case.fixture:
        lines.append(f"--# fixture {case.fixture}")
    if case.model:
        lines.append(f"--# model {case.model}")
    for step in loom.first:
        if isinstance(step, Let):
            lines.append(_let_line(step))
        elif isinstance(step, StampStep):
            lines.append(loom.source[step.span].strip())
        elif isinstance(step, StatementStep):
            lines.append(loom.source[step.span] + ";")
    if any(isinstance(s, StatementStep) for s in loom.first):
        lines.append("COMMIT;")
    lines += _pinned_order(loom, group)
    return "\n".join(lines) + "\n"


def _pinned_order(loom: Loom, group: Group) -> Iterator[str]:
    """Run the order again, and write down what happens. What comes out of a wait is told at the session's next turn."""
    late: dict[str, list[str]] = {}
    told: list[tuple[str, str, list[str]]] = []

    def note(name: str, step: Executable, outcome: Outcome) -> None:
        lines = list(pinned(outcome))
        if told and told[-1][0] == name and not told[-1][2] and told[-1][1] == loom.source[step.span]:
            told[-1][2].extend(lines)
        else:
            late.setdefault(name, []).extend(lines)

    settings: dict[str, dict[str, str | float | bool]] = {}
    for turn in loom.settings:  # a session that has its turn again says nothing, and keeps what it is
        settings.setdefault(turn.session, {}).update(turn.settings)
    loom.start()
    loom.on_outcome = note
    at = ""
    started: set[str] = set()
    for name in group.order:
        text = loom.source[loom.threads[name][loom.at[name]].statement.span]
        ready = late.pop(name, [])
        if name != at or ready:
            words = _settings_words(settings.get(name, {})) if name not in started else ""
            yield f"--# session {name}{words}"
            started.add(name)
            yield from (f"--> {line}" for line in ready)
        yield from map(_let_line, loom.lets.get((name, loom.at[name]), ()))
        at = name
        told.append((name, text, []))
        loom.step(name)
        yield f"{text};"
        yield from (f"--> {line}" for line in told[-1][2])
    loom.on_outcome = None
    yield from _let_go(loom, late)
    for name, lines in late.items():
        yield f"--# session {name}"
        yield from (f"--> {line}" for line in lines)


def _let_line(step: Let) -> str:
    return f"--# let {step.name} = {step.text}"


def _let_go(loom: Loom, late: dict[str, list[str]]) -> Iterator[str]:
    """An order that ends in a wait: whoever is waited for rolls back, so that every statement of the script ends."""
    source = Source("ROLLBACK", "end")
    statement = parse(source).statements[0]
    while loom.waiting:
        waits = [loom.engine.sessions[name].claims.waiting for name in loom.waiting]
        name = next((b for w in waits if w is not None for b in w.blockers if b not in loom.waiting), None)
        if name is None:
            return
        ended, *others = loom.engine.execute(loom.engine.session(name), statement, source)
        yield f"--# session {name}"
        yield from (f"--> {line}" for line in late.pop(name, []))
        yield "ROLLBACK;"
        yield from (f"--> {line}" for line in pinned(ended))
        for outcome in others:
            loom.waiting.pop(outcome.session, None)
            late.setdefault(outcome.session, []).extend(pinned(outcome))


def _settings_words(settings: dict[str, str | float | bool]) -> str:
    words = ""
    if "isolation" in settings:
        words += f" isolation {settings['isolation']}"
    if "autocommit" in settings:
        words += f" autocommit {'on' if settings['autocommit'] else 'off'}"
    if "patience" in settings:
        words += f" patience {float(settings['patience']):g}s"
    return words
