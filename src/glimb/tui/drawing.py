"""How cases, rungs and steps are drawn as lines of text. Pure functions of what the suite gives; no widgets."""

from __future__ import annotations

from bisect import bisect_right, insort
from collections.abc import Iterator, Mapping
from functools import partial
from itertools import takewhile

from glimb.engine.outcomes.outcome import HeldLock, Outcome, TransactionEvent
from glimb.engine.outcomes.steps import Step
from glimb.engine.values.conversion import literal_of
from glimb.suite import telling
from glimb.suite.ladder import Ladder, Rung
from glimb.suite.results import CaseResult
from glimb.suite.script import Case, Script, StatementStep
from glimb.suite.telling import Part, parts
from glimb.suite.wording import counts_text
from glimb.tui import palette as P
from glimb.tui.lines import Item, fixed
from glimb.tui.palette import Palette
from glimb.tui.text import Text
from glimb.tui.worker import CaseId

SLOTS = 3
INTENTIONS = ("IS", "IX")
RAIL_WIDTH = SLOTS + 2


def one_line(text: str) -> str:
    """White space folded."""
    return " ".join(text.split())


def cut(text: str, width: int) -> str:
    """At most `width` characters, with an ellipsis where something is missing."""
    return text if len(text) <= width else text[: max(0, width - 1)] + "…"


def plural(count: int, word: str) -> str:
    return f"{count} {word}{'s' * (count != 1)}"


# ---- survey ---------------------------------------------------------------------------------------------------------


class Row:
    """A case in the survey; for a script that cannot be read, a row without a case."""

    def __init__(self, case_id: CaseId, script: Script, case: Case | None) -> None:
        self.id = case_id
        self.script = script
        self.case = case
        self.result: CaseResult | None = None
        self.running = False

    @property
    def title(self) -> str:
        return self.case.title if self.case is not None else "this script cannot be read"

    @property
    def verdict(self) -> str:
        return self.result.verdict if self.result is not None else ""


def verdict_style(verdict: str, colours: Palette) -> str:
    """Style of a verdict's sign."""
    return {
        "met": colours.met,
        "slipped": f"bold {colours.slip}",
        "broken": f"bold {colours.slip}",
        "skipped": colours.quiet,
    }.get(verdict, colours.quiet)


def survey_items(rows: list[Row], shown: dict[str, str], colours: Palette, width: int) -> list[Item]:
    """All cases under the names of their scripts."""
    items: list[Item] = []
    path = ""
    for number, row in enumerate(rows):
        if str(row.script.path) != path:
            path = str(row.script.path)
            if items:
                items.append(fixed(Text("")))
            mine = list(takewhile(lambda r, first=row: r.script is first.script, rows[number:]))  # type: ignore[misc]
            items.append(Item(partial(_script_line, shown[path], mine, colours, width)))
        items.append(Item(lambda row=row: [_case_line(row, colours, width)], number))  # type: ignore[misc]
    return items


def _script_line(shown: str, mine: list[Row], colours: Palette, width: int) -> list[Text]:
    signs = Text("".join(P.VERDICT_SIGNS[r.verdict] for r in mine[: max(4, width // 3)]))
    for at, row in enumerate(mine[: len(signs)]):
        signs.stylize(verdict_style(row.verdict, colours), at, at + 1)
    line = Text()
    line.append(f" {cut(shown, max(8, width - len(signs) - 4))}  ", style=f"bold {colours.accent}")
    return [line.append_text(signs)]


def _case_line(row: Row, colours: Palette, width: int) -> Text:
    sign = "▶" if row.running else P.VERDICT_SIGNS[row.verdict]
    line = Text()
    line.append(f"   {sign} ", style=colours.accent if row.running else verdict_style(row.verdict, colours))
    tail = _case_tail(row, width >= 90)
    room = width - 6 - (len(tail) + 2 if width >= 60 else 0)
    title = cut(row.title, room)
    style = f"bold {colours.slip}" if row.verdict in ("slipped", "broken") else colours.text
    line.append(title.ljust(room) if width >= 60 else title, style=style)
    if width >= 60:
        line.append("  " + tail, style=colours.quiet)
    return line


def _case_tail(row: Row, roomy: bool) -> str:
    """Sessions, statements, expectations met and time, in columns; only the third where there is little room."""
    case, result = row.case, row.result
    if case is None:
        return " " * (34 if roomy else 6)
    sessions = plural(len(case.sessions()), "session")
    statements = sum(isinstance(s, StatementStep) for s in case.steps)
    met = ""
    if result is not None and result.ladder is not None:
        met = f"{result.met_count}/{result.total_count}"
    time = f"{result.seconds * 1000:.1f} ms" if result is not None and result.seconds else ""
    return f"{sessions:>10} {statements:>3} st {met:>6} {time:>9}" if roomy else f"{met:>6}"


# ---- ladder: rails --------------------------------------------------------------------------------------------------


Bars = list[HeldLock | None]
"""The locks in the slots of a rail beside one rung."""


class RailPlan:
    """Which lock stands in which slot of its session's rail, rung by rung: locks on rows and whole tables first, and
    where there is room the intentions on tables that come with them."""

    def __init__(self, ladder: Ladder) -> None:
        self.ladder = ladder
        self.ended: dict[int, list[Rung]] = {}
        for rung in ladder.rungs:
            if rung.ended_at is not None:
                self.ended.setdefault(rung.ended_at, []).append(rung)
        self.wanted = self._wanted()
        self.bars = {session: self._bars(session) for session in ladder.sessions}

    def _bars(self, session: str) -> list[Bars]:
        """Slots for the locks of a session, each from the rung that took it to the one before it was let go."""
        bars: list[Bars] = [[None] * SLOTS for _ in self.ladder.rungs]
        taken: list[list[tuple[int, int]]] = [[] for _ in range(SLOTS)]
        for spell in sorted(self.ladder.spells(session), key=lambda s: (s.lock.mode in INTENTIONS, s.start)):
            slot = next((n for n, spans in enumerate(taken) if _is_free(spans, spell.start, spell.end)), None)
            if slot is not None:
                insort(taken[slot], (spell.start, spell.end))
                for at in range(spell.start, spell.end):
                    bars[at][slot] = spell.at(at)
        return bars

    def _wanted(self) -> list[set[tuple[str, str]]]:
        """For every rung the locks that somebody waits for after it: (table, key)."""
        found: list[set[tuple[str, str]]] = []
        open_waits: list[Rung] = []
        for number, rung in enumerate(self.ladder.rungs):
            open_waits += [rung] if rung.outcome.waiting is not None else []
            open_waits = [r for r in open_waits if r.ended_at is None or r.ended_at > number]
            waits = (r.outcome.waiting for r in open_waits)
            found.append({(w.table, w.key) for w in waits if w is not None})
        return found


def _is_free(spans: list[tuple[int, int]], start: int, end: int) -> bool:
    """Whether nothing stands between two rungs; the spans do not overlap, and are in order."""
    at = bisect_right(spans, (start, end))
    before = spans[at - 1][1] if at else 0
    return before <= start and (at == len(spans) or spans[at][0] >= end)


def rails(plan: RailPlan, number: int, second: bool, colours: Palette) -> Text:
    """The rails of all sessions beside one line of a rung: at its statement, or (`second`) behind it."""
    wanted = plan.wanted[number]
    line = Text()
    for at, session in enumerate(plan.ladder.sessions):
        colour = colours.session(at)
        sign, strong = _rail_sign(plan, number, session, second)
        line.append(sign, style=f"bold {colour}" if strong else colour)
        for slot in range(SLOTS):
            old = plan.bars[session][number - 1][slot] if number else None
            new = plan.bars[session][number][slot]
            line.append(_lock_sign(old, new, second, wanted), style=colour)
        line.append(" ")
    return line


def _lock_sign(old: HeldLock | None, new: HeldLock | None, second: bool, wanted: set[tuple[str, str]]) -> str:
    if new is not None:
        if old != new:
            started = P.LOCK_TAKEN if old is None or old[:3] != new[:3] else P.LOCK_CONVERTED
            return P.LOCK_MODES[new.mode] if second else started
        return P.LOCK_WANTED if (new.table, new.key) in wanted else P.LOCK_HELD
    return P.LOCK_FREED if old is not None and not second else " "


def _rail_sign(plan: RailPlan, number: int, session: str, second: bool) -> tuple[str, bool]:
    """Sign of a rail, and whether it is one that stands out."""
    rung = plan.ladder.rungs[number]
    state = rung.rails[session].state
    plain = {"none": P.RAIL_NONE, "open": P.RAIL_OPEN, "waiting": P.RAIL_WAITING}[state]
    if second:
        return plain, False
    if rung.session != session:
        ended = any(r.session == session for r in plan.ended.get(number, ()))
        return (P.WAKE, True) if ended else (plain, False)
    if rung.outcome.waiting is not None:
        return P.WAIT, True
    for event in reversed(rung.rails[session].events):
        if event.kind in EVENT_SIGNS:
            return EVENT_SIGNS[event.kind], True
    return (P.NODE if state == "open" else P.NODE_NONE), True


# ---- ladder: rungs --------------------------------------------------------------------------------------------------


def ladder_items(ladder: Ladder, colours: Palette, width: int, differs: Mapping[int, Rung] | None = None) -> list[Item]:
    """All rungs: the statement in its session's lane, and below it what it did; of those that now do something else
    (by number, as they were before) that too."""
    before = differs or {}
    plan = RailPlan(ladder)
    rail_width = RAIL_WIDTH * len(ladder.sessions)
    room = max(20, width - rail_width - 6 - 7)
    lane = min(26, room // (2 * len(ladder.sessions))) if len(ladder.sessions) > 1 else 0
    items = [fixed(_session_heads(ladder, colours, lane))]
    items += [fixed(Text("  " + line, style=f"bold {colours.slip}")) for line in _ladder_slips(ladder)]

    def drawn(number: int) -> list[Text]:
        rung = ladder.rungs[number]
        offset = lane * ladder.sessions.index(rung.session)
        colour = colours.session(ladder.sessions.index(rung.session))
        first = Text(" ").append_text(rails(plan, number, False, colours))
        first.append(f"{rung.number:>3}", style=colours.quiet)
        first.append(f"{P.DIFFERS} " if rung.number in before else "  ", style=f"bold {colours.warn}")
        statement = cut(one_line(rung.text), room - offset)
        first.append(" " * offset + statement, style=colours.quiet if rung.is_setup else colour)
        first.append(" " * max(1, room - offset - len(statement) + 1))
        first.append_text(_marks(rung, colours))
        second = Text(" ").append_text(rails(plan, number, True, colours))
        second.append("     " + " " * offset)
        did = signs(plan, rung, number, colours)
        if rung.number in before:
            did.append(f"  {P.DIFFERS} was ", style=f"bold {colours.warn}")
            did.append_text(outcome_text(before[rung.number].last, colours))
        second.append_text(_fitted(did, room + 6 - offset))
        return [first, second]

    items += [Item(partial(drawn, number), number, 2) for number in range(len(ladder.rungs))]
    if not ladder.rungs:
        items.append(fixed(Text("  This case has no statements.", style=colours.quiet)))
    return items


def _ladder_slips(ladder: Ladder) -> Iterator[str]:
    for verdict in ladder.slips:
        yield f"{P.SLIP} expected {verdict.expected}; seen: {verdict.seen}"


def _fitted(text: Text, width: int) -> Text:
    text.truncate(width, overflow="ellipsis")
    return text


def _session_heads(ladder: Ladder, colours: Palette, lane: int) -> Text:
    """The names of the sessions, each above its lane, in the colour of its rail."""
    line = Text(" " * (1 + RAIL_WIDTH * len(ladder.sessions) + 5))
    for at, session in enumerate(ladder.sessions):
        is_last = at == len(ladder.sessions) - 1
        name = session if is_last else cut(session, max(1, lane - 1)).ljust(lane)
        line.append(name, style=f"bold {colours.session(at)}")
    return line


def _marks(rung: Rung, colours: Palette) -> Text:
    """Expectations of a rung: how many met, how many slipped."""
    slips = len(rung.slips)
    met = len(rung.verdicts) - slips
    if slips:
        return Text(f"{P.SLIP}{slips} {P.MET}{met}" if met else f"{P.SLIP}{slips}", style=f"bold {colours.slip}")
    return Text(f"{P.MET}{met}", style=colours.met) if met else Text("")


def signs(plan: RailPlan, rung: Rung, number: int, colours: Palette) -> Text:
    """What a rung did, in a few signs."""
    line = Text()

    def add(text: str, style: str) -> None:
        line.append(("  " if line.plain else "") + text, style=style)

    outcome = rung.outcome
    if outcome.waiting is not None:
        add(f"{P.WAIT} waits for {', '.join(outcome.waiting.sessions)} on {_place(outcome)}", colours.warn)
        if rung.ended_at is not None:
            add(f"until rung {plan.ladder.rungs[rung.ended_at].number}, then", colours.quiet)
    for text, style in _outcome_signs(rung.last, colours):
        add(text, style)
    for other in plan.ended.get(number, ()):
        if other.session != rung.session:
            add(f"{P.WAKE} {other.session} goes on with rung {other.number}", colours.warn)
    if not line.plain:
        add("done", colours.faint)
    return line


def outcome_text(outcome: Outcome, colours: Palette) -> Text:
    """What an outcome was, in the same signs."""
    line = Text()
    for text, style in _outcome_signs(outcome, colours):
        line.append(("  " if line.plain else "") + text, style=style)
    return line if line.plain else Text("done", style=colours.faint)


def _place(outcome: Outcome) -> str:
    waiting = outcome.waiting or outcome.waited
    return f"{waiting.table} {waiting.key}".rstrip() if waiting is not None else ""


SIGNED = (
    telling.Condition,
    telling.Changes,
    telling.Rows,
    telling.Count,
    telling.Values,
    telling.Given,
    telling.Notes,
    telling.Transaction,
)
"""What of an outcome has signs, what weighs most first. Waits and wakes stand at the rails, locks have a view."""


def _outcome_signs(outcome: Outcome, colours: Palette) -> Iterator[tuple[str, str]]:
    signed = [part for part in parts(outcome) if isinstance(part, SIGNED)]
    for part in sorted(signed, key=lambda part: SIGNED.index(type(part))):
        yield from _part_signs(part, colours)


def _part_signs(part: Part, colours: Palette) -> Iterator[tuple[str, str]]:
    match part:
        case telling.Condition(failure):
            word = "deadlock" if failure.circle else failure.message
            yield f"{failure.sqlstate} {cut(word, 44)}", f"bold {colours.slip}"
        case telling.Changes(_, counts):
            yield from ((f"{counts_text(c)} {table}", colours.text) for table, c in counts.items())
        case telling.Rows(1, _, [_], [_]):
            yield f"= {cut(part.texts()[0][0], 30)}", colours.text
        case telling.Rows(number, _, _, rows):
            yield ("+ " if number > 1 else "") + plural(len(rows), "row"), colours.text
        case telling.Count(_, True):
            yield "no rows", colours.warn
        case telling.Values():
            yield from ((f"{name} = {cut(text, 24)}", colours.text) for name, text in part.texts())
        case telling.Given():
            yield from ((f"{name} = {cut(text, 24)}", colours.text) for name, text in part.texts())
        case telling.Notes(notes):
            yield f"note {cut(notes[0], 40)}" + (f" +{len(notes) - 1}" if len(notes) > 1 else ""), colours.quiet
        case telling.Transaction(_, events):
            for event in events:
                yield from _event_sign(event, colours)


EVENT_SIGNS = {"commit": P.COMMIT, "rollback": P.ROLLBACK, "savepoint": P.KNOT, "to savepoint": P.BACK}
"""How a rail shows what happened to its transaction."""


def _event_sign(event: TransactionEvent, colours: Palette) -> Iterator[tuple[str, str]]:
    told = {
        "commit": ("committed", colours.met),
        "rollback": ("rolled back", colours.warn),
        "savepoint": (event.name, colours.quiet),
        "to savepoint": (f"to {event.name}", colours.warn),
    }.get(event.kind)
    if told is not None:
        yield f"{EVENT_SIGNS[event.kind]} {told[0]}", told[1]


# ---- steps inside a call --------------------------------------------------------------------------------------------


def step_title(step: Step) -> str:
    """A step as a word or two, for the path above."""
    if step.frame is not None:
        return step.frame.name
    assert step.info is not None
    return step.info.name


def step_items(steps: list[Step], colours: Palette, width: int) -> list[Item]:
    """Statements of a routine, one line each, with what they assigned and changed."""
    items: list[Item] = []
    shown_round = 0
    for number, step in enumerate(steps):
        if step.round and step.round != shown_round:
            gap = " (rounds between are folded)" if step.round > shown_round + 1 and shown_round else ""
            shown_round = step.round
            items.append(fixed(Text(f"   round {step.round}{gap}", style=f"bold {colours.quiet}")))
        items.append(Item(lambda step=step: [_step_line(step, colours, width)], number))  # type: ignore[misc]
    if not items:
        items.append(fixed(Text("   Nothing was recorded inside.", style=colours.quiet)))
    return items


def _step_line(step: Step, colours: Palette, width: int) -> Text:
    if step.frame is not None:
        arguments = ", ".join(f"{v.name} = {cut(literal_of(v.value, v.type), 20)}" for v in step.assigned)
        line = Text().append(f"   {P.WAKE} ", style=colours.accent)
        line.append(cut(f"{step.frame.name}({arguments})", width - 6), style=f"bold {colours.text}")
        return line
    info = step.info
    assert info is not None
    line = Text().append(f" {info.source.line(info.span.start):>4} ", style=colours.quiet)
    room = max(16, (width - 8) * 3 // 5)
    text = one_line(info.source[info.span])
    if info.is_loop or info.name in ("if", "case", "row"):
        text = text.partition(" DO")[0].partition(" THEN")[0] if info.name != "row" else "next row"
    line.append(cut(text, room).ljust(room), style=colours.text)
    line.append("  ")
    line.append_text(_step_signs(step, colours))
    line.truncate(width, overflow="ellipsis")
    return line


def _step_signs(step: Step, colours: Palette) -> Text:
    parts = Text()
    for variable in step.assigned:
        before = step.before.get(variable.name)
        same = before is not None and before.value == variable.value
        parts.append(
            f"{variable.name} = {cut(literal_of(variable.value, variable.type), 24)}  ",
            style=colours.quiet if same else colours.text,
        )
    counts: dict[str, list[int]] = {}
    for change in step.changes:
        kind = 0 if change.before is None else 2 if change.after is None else 1
        counts.setdefault(change.table.name, [0, 0, 0])[kind] += 1
    for table, numbers in counts.items():
        parts.append(f"{counts_text(numbers)} {table}  ", style=colours.text)
    if step.row_count == 0:
        parts.append("no rows  ", style=colours.warn)
    if step.rounds:
        parts.append(f"×{step.rounds}  ", style=f"bold {colours.accent}")
    if step.condition is not None:
        told = " → handler  " if step.handled else "  "
        parts.append(f"{step.condition.sqlstate}{told}", style=f"bold {colours.warn if step.handled else colours.slip}")
    if step.steps:
        parts.append("↵", style=colours.accent)
    return parts
