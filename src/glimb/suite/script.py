"""Scripts: a .sql file read as cases, each with its statements, sessions and expectations. Runs nothing."""

from __future__ import annotations

import os
import re
from bisect import bisect_right
from collections.abc import Callable, Iterator
from datetime import datetime
from functools import lru_cache
from typing import TYPE_CHECKING, NoReturn, Protocol

from glimb.engine.transactions.isolation import MODELS
from glimb.engine.values import conversion as V
from glimb.engine.values.conditions import Condition
from glimb.lang.node import Record, replace
from glimb.lang.parser import Broken, Parsed, parse, parse_expression
from glimb.lang.parser.statements import ISOLATION_LEVELS
from glimb.lang.problem import Problem, ProblemError, nearest
from glimb.lang.source import NOWHERE, Source, Span
from glimb.lang.tokens import Mark
from glimb.lang.tree import Statement
from glimb.store import in_use
from glimb.suite.project import read_text

if TYPE_CHECKING:
    from pathlib import Path

    from glimb.suite.expectations.kind import Expectation

MAIN = "main"
TWINS: dict[str, tuple[str, ...]] = {
    "model": tuple(MODELS),
    "isolation": ISOLATION_LEVELS,
    "autocommit": ("on", "off"),
}
"""Settings under which a case can run twice, with their values."""
_DURATION = r"(\d+(?:\.\d+)?)(ms|s|m)\Z"
MOST_SECONDS = 100 * 86_400.0
_NAME = r"[^\W\d]\w*\Z"


class Turn(Record):
    """A session's part begins: its name, settings, and what is expected of its statement that was waiting."""

    session: str
    settings: dict[str, str | float | bool]
    expectations: list[Expectation]
    span: Span


class StatementStep(Record):
    """A statement of a session with its expectations."""

    session: str
    statement: Statement
    expectations: list[Expectation]

    @property
    def span(self) -> Span:
        return self.statement.span


class Let(Record):
    """A host variable is set to the value of an expression, asked for a session."""

    session: str
    name: str
    text: str
    span: Span


class StampStep(Record):
    """Rows are made by a stamp: how its line goes on (see `suite.stamps`)."""

    session: str
    text: str
    span: Span


class Wait(Record):
    """The virtual clock moves on."""

    seconds: float
    span: Span


class ClockSet(Record):
    """The virtual clock is set (for a case: before its first statement)."""

    moment: datetime
    span: Span


class ModelSet(Record):
    """The concurrency model is chosen; for running a text that is not judged."""

    model: str
    span: Span


class Twin(Record):
    """A setting under whose two values a case runs: model, isolation or autocommit."""

    setting: str
    values: tuple[str, str]


class BrokenStep(Record):
    """A stretch of text that is no statement; the case it stands in is run only if that is expected of it."""

    session: str
    span: Span
    problems: tuple[Problem, ...]
    expectations: list[Expectation]


Step = Turn | StatementStep | Let | StampStep | Wait | ClockSet | ModelSet | BrokenStep


class Case:
    """A case: title, fixture, steps. `problems` are what is wrong with its text; then it is not run."""

    def __init__(self, title: str, span: Span) -> None:
        self.title = title
        self.span = span
        self.end = span.end
        self.fixture = ""
        self.fixture_span = span
        self.skip = ""
        self.tags: tuple[str, ...] = ()
        self.clock: datetime | None = None
        self.model = ""
        self.twin: Twin | None = None
        self.setup: list[Step] = []
        self.steps: list[Step] = []
        self.problems: list[Problem] = []

    def sessions(self) -> list[str]:
        """Names of its sessions, in the order in which they first act."""
        names = [s.session for s in [*self.setup, *self.steps] if isinstance(s, StatementStep | BrokenStep)]
        return list(dict.fromkeys(names)) or [MAIN]


@lru_cache(maxsize=4096)
def _path(name: str) -> Path:
    from pathlib import Path  # slow to import, and not needed by a text that is no file

    return Path(name)


class Script(Record):
    """A file with its cases. `problems` belong to no case: then none of them is run. `flow` are all steps in the
    order of the text."""

    name: str
    """Its path, or a word for a text that is no file."""
    source: Source
    cases: list[Case]
    problems: list[Problem]
    flow: list[Step]
    warnings: list[Problem] = []
    session: str = MAIN
    """The one to which what comes behind its text would belong."""

    @property
    def path(self) -> Path:
        return _path(self.name)

    def wrong_lines(self, *more: Problem) -> list[Problem]:
        """Of its problems, and more, those of arranging and expecting lines: a text that is no statement is a step."""
        said = {id(p) for step in self.flow if isinstance(step, BrokenStep) for p in step.problems}
        return [p for p in (*self.problems, *more) if id(p) not in said]


class Fail(Protocol):
    """Says what is wrong at a place."""

    def __call__(self, message: str, place: Mark | Span, hint: str = "") -> NoReturn: ...


class _Reader:
    """Goes through statements and marks in the order of the text."""

    def __init__(self, name: str, source: Source) -> None:
        self.name = name
        self.source = source
        self.cases: list[Case] = []
        self.problems: list[Problem] = []
        self.head = Case("", Span(0, 0))
        self.case: Case | None = None
        self.in_setup = False
        self.setup: list[Step] = []
        self.flow: list[Step] = []
        self.session = MAIN
        self.expecting: list[Mark] = []
        self.last: StatementStep | BrokenStep | Turn | None = None
        self.warnings: list[Problem] = []
        self.told_fixture: list[Case] = []

    def warn(self, message: str, span: Span) -> None:
        """Something that is no fault, but hardly meant."""
        self.warnings.append(Problem("01000", message, span, "", self.source))

    def read(self) -> Script:
        parsed = parse(self.source)
        self.warnings += parsed.notes
        self.warnings += _lookalikes(self.source)
        for thing in _things(self.source, parsed):
            self._thing(thing)
        self._flush()
        self._close_case(len(self.source.text))
        return Script(self.name, self.source, self.cases, self.problems, self.flow, self.warnings)

    def _thing(self, thing: Statement | Broken | Mark) -> None:
        if isinstance(thing, Mark) and thing.sign == ">":
            self.expecting.append(thing)
            return
        if isinstance(thing, Mark) and thing.sign == "@":
            return
        self._flush()
        if isinstance(thing, Mark):
            self._directive(thing)
        elif isinstance(thing, Broken):
            broken = BrokenStep(self.session, thing.span, thing.problems, [])
            self._add(broken)
            self.last = broken
        else:
            step = StatementStep(self.session, thing, [])
            self._add(step)
            self.last = step

    def _blame(self, *problems: Problem) -> None:
        """Problems belong to the case they stand in; before the first one, to the file."""
        (self.case.problems if self.case is not None else self.problems).extend(problems)

    def _add(self, step: StatementStep | BrokenStep | Turn | Let | StampStep | Wait) -> None:
        self.flow.append(step)
        if self.in_setup:
            self.setup.append(step)
            return
        self._ensure_case(step.span).steps.append(step)

    def _ensure_case(self, span: Span) -> Case:
        """The case at hand; a file without case lines is one case, of the file's name. Setup has no case."""
        if self.case is None and not self.in_setup:
            self._open_case(os.path.splitext(os.path.basename(self.name))[0], span)
        return self.case or self.head

    def _flush(self) -> None:
        """Give collected expecting lines to the statement or turn above them."""
        marks, self.expecting = self.expecting, []
        broken = self.last if isinstance(self.last, BrokenStep) and not self.last.expectations else None
        if not marks:
            if broken is not None:
                self._blame(*broken.problems)
                self.last = None
            return
        from glimb.suite.expectations.reading import read_expectations  # for the start: not every text expects

        found, problems = read_expectations(self.source, marks)
        self._blame(*problems)
        for expectation in found:
            twin = self.target.twin
            if expectation.side and (twin is None or expectation.side not in twin.values):
                hint = f"{' or '.join(twin.values)}" if twin is not None else "--# twin model = versions | locking"
                side = f"the case does not run under {expectation.side}"
                self._blame(Problem("42601", side, expectation.span, hint, self.source))
        if broken is not None and not any(e.kind == "fails" for e in found):
            self._blame(*broken.problems)
            broken.expectations.extend(found)  # where it is being typed, they are kept until it is mended
            self.last = None
        elif self.last is not None:
            self.last.expectations.extend(found)
        elif self.case is None or not self.case.problems:
            hint = "expectations stand below a statement, or at the start of a session's part"
            self._blame(
                Problem("42601", "there is no statement above this expectation", marks[0].span, hint, self.source)
            )

    # -- arranging lines

    def _directive(self, mark: Mark) -> None:
        word, _, rest = mark.text.partition(" ")
        reader = _DIRECTIVES.get(word.lower())
        rest = rest.strip()
        at = mark.text_start + (mark.text.find(rest, len(word)) if rest else len(word))
        try:
            if reader is None:
                self._fail(f"there is no arranging line `{word}`", mark, nearest(word.lower(), _DIRECTIVES))
            reader(self, rest, Span(at, at + max(1, len(rest))), mark)
        except ProblemError as error:
            self._blame(*error.problems)

    def _fail(self, message: str, place: Mark | Span, hint: str = "") -> NoReturn:
        span = place if isinstance(place, Span) else Span(place.text_start, place.end)
        raise ProblemError(Problem("42601", message, span, hint, self.source))

    def _need(self, rest: str, what: str, mark: Mark) -> None:
        if not rest:
            self._fail(f"{what} is missing", mark)

    @property
    def target(self) -> Case:
        """What settings belong to: the case, or all cases of the file."""
        return self.case if self.case is not None else self.head

    def _open_case(self, title: str, span: Span) -> None:
        self._close_case(span.start)
        self.case = Case(title, span)
        self.case.fixture, self.case.clock = self.head.fixture, self.head.clock
        self.case.fixture_span = self.head.fixture_span if self.head.fixture else span
        self.case.tags, self.case.model, self.case.twin = self.head.tags, self.head.model, self.head.twin
        self.case.setup = self.setup
        self.cases.append(self.case)
        self.in_setup = False
        self.session, self.last = MAIN, None

    def _close_case(self, end: int) -> None:
        if self.case is not None:
            self.case.end = end

    def do_case(self, rest: str, span: Span, mark: Mark) -> None:
        self._need(rest, "the title of the case", mark)
        if any(c.title == rest for c in self.cases):
            self.warn(f"another case of this file has the title `{rest}`", span)
        self._open_case(rest, mark.span)

    def do_setup(self, rest: str, span: Span, mark: Mark) -> None:
        if self.case is not None:
            self._fail("setup comes before the first case", mark)
        self.in_setup = True
        self.session, self.last = MAIN, None

    def do_fixture(self, rest: str, span: Span, mark: Mark) -> None:
        self._need(rest, "the name of a fixture", mark)
        if self.target.fixture and self.target.fixture_span != span and self.target in self.told_fixture:
            self.warn(f"the fixture of this case is said twice: {self.target.fixture}, {rest}", mark.span)
        self.told_fixture.append(self.target)
        self.target.fixture, self.target.fixture_span = rest, span

    def do_session(self, rest: str, span: Span, mark: Mark) -> None:
        words = rest.split()
        self._need(rest, "the name of the session", mark)
        if not re.match(_NAME, words[0]):
            self._fail(f"`{words[0]}` is no name for a session", span)
        settings = _session_settings(self._fail, words[1:], span)
        self._ensure_case(mark.span)
        self.session = words[0].lower()
        turn = Turn(self.session, settings, [], mark.span)
        self.last = turn
        self._add(turn)

    def do_let(self, rest: str, span: Span, mark: Mark) -> None:
        """let NAME = a literal, an expression or (a query); before the first case: for all cases."""
        name, equals, text = (part.strip() for part in rest.partition("="))
        if not equals or not text or not re.match(_NAME, name):
            self._fail(
                "a name, = and a value are wanted", span, "let total = 31.50, let id = (SELECT MAX(id) FROM stay)"
            )
        at = span.start + rest.find(text, rest.index("="))
        _check_expression(self._fail, text, at)
        self.last = None
        step = Let(self.session, name.lower(), text, Span(at, at + len(text)))
        if self.case is None:
            self.setup.append(step)
            self.flow.append(step)
        else:
            self._add(step)

    def do_stamp(self, rest: str, span: Span, mark: Mark) -> None:
        """stamp TABLE [COUNT] [column = expression, ...]; before the first case: for all cases."""
        self._need(rest, "a table", mark)
        from glimb.suite.stamps import read_stamping  # for the start: few texts stamp

        try:
            read_stamping(rest)
        except ProblemError as error:
            self._fail(error.problems[0].message, span, error.problems[0].hint)
        self.last = None
        step = StampStep(self.session, rest, mark.span)
        if self.case is None:
            self.setup.append(step)
            self.flow.append(step)
        else:
            self._add(step)

    def do_wait(self, rest: str, span: Span, mark: Mark) -> None:
        self._need(rest, "how long to wait", mark)
        self.last = None
        self._add(Wait(_duration(self._fail, rest, span), mark.span))

    def do_clock(self, rest: str, span: Span, mark: Mark) -> None:
        self._need(rest, "a date and time", mark)
        try:
            moment = V.text_to_timestamp(rest.removeprefix("TIMESTAMP").strip().strip("'"))
        except Condition as condition:
            self._fail(condition.message, span)
        self.target.clock = moment
        self.flow.append(ClockSet(moment, mark.span))

    def do_skip(self, rest: str, span: Span, mark: Mark) -> None:
        self._need(rest, "the reason", mark)
        if self.case is None:
            self._fail("skip belongs into a case", mark)
        self.target.skip = rest

    def do_tags(self, rest: str, span: Span, mark: Mark) -> None:
        self._need(rest, "a tag", mark)
        self.target.tags += tuple(rest.replace(",", " ").split())

    def do_model(self, rest: str, span: Span, mark: Mark) -> None:
        self._need(rest, "the name of the model", mark)
        self.target.model = self._one_of(rest, tuple(MODELS), "model", span)
        self.flow.append(ModelSet(self.target.model, mark.span))

    def _one_of(self, word: str, known: tuple[str, ...], what: str, span: Span) -> str:
        return _one_of(word, known, what, lambda message, hint: self._fail(message, span, hint))

    def do_twin(self, rest: str, span: Span, mark: Mark) -> None:
        """twin SETTING = A | B: the case runs under both."""
        self.target.twin = read_twin(rest, lambda message, hint: self._fail(message, span, hint))


def _one_of(word: str, known: tuple[str, ...], what: str, fail: Callable[[str, str], NoReturn]) -> str:
    word = " ".join(word.lower().split())
    if word not in known:
        fail(f"there is no {what} `{word}`", nearest(word, known) or ", ".join(known))
    return word


def _fail_alone(message: str, hint: str) -> NoReturn:
    raise ProblemError(Problem("42601", message, hint=hint))


def read_twin(text: str, fail: Callable[[str, str], NoReturn] = _fail_alone) -> Twin:
    """`SETTING = A | B` read; what is wrong with it goes to `fail`, which raises ProblemError."""
    setting, equals, values = text.partition("=")
    setting = _one_of(setting, tuple(TWINS), "setting to run twice under", fail)
    sides = [_one_of(v, TWINS[setting], setting, fail) for v in values.split("|")]
    if not equals or len(sides) != 2 or sides[0] == sides[1]:
        fail("two values are wanted", f"twin {setting} = {' | '.join(TWINS[setting][:2])}")
    return Twin(setting, (sides[0], sides[1]))


_DIRECTIVES: dict[str, Callable[[_Reader, str, Span, Mark], None]] = {
    "case": _Reader.do_case,
    "setup": _Reader.do_setup,
    "fixture": _Reader.do_fixture,
    "session": _Reader.do_session,
    "let": _Reader.do_let,
    "stamp": _Reader.do_stamp,
    "wait": _Reader.do_wait,
    "clock": _Reader.do_clock,
    "skip": _Reader.do_skip,
    "tags": _Reader.do_tags,
    "model": _Reader.do_model,
    "twin": _Reader.do_twin,
}


_EXPECTING = frozenset(
    "value rows no count note fails handled deadlock change lock waits wakes open committed to holds at never".split()
)
"""Words with which an expecting line begins."""


def _things(source: Source, parsed: Parsed) -> list[Statement | Broken | Mark]:
    """Statements, what is broken, and marks, in the order of the text."""
    starts = [i.span.start for i in parsed.items]
    known = set(starts)

    def around_of(offset: int) -> Statement | Broken | None:
        """The statement in whose middle an offset lies."""
        number = bisect_right(starts, offset) - 1
        found = parsed.items[number] if number >= 0 else None
        return found if found is not None and found.span.start < offset < found.span.end else None

    things: list[tuple[int, Statement | Broken | Mark]] = [(i.span.start, i) for i in parsed.items]
    for mark in parsed.marks:
        around = around_of(mark.start)
        if around is None:
            things.append((mark.start, mark))
        elif mark.sign != "@" and not isinstance(around, Broken):
            word = "an arranging line" if mark.sign == "#" else "an expectation"
            hint = "it belongs below the statement's semicolon"
            problem = Problem("42601", f"{word} in the middle of a statement", mark.span, hint, source)
            things.append((mark.start, Broken(mark.span, (problem,))))
    for problem in parsed.problems:
        if around_of(problem.span.start) is None and problem.span.start not in known:
            things.append((problem.span.start, Broken(problem.span, (problem,))))
    return [thing for _, thing in sorted(things, key=lambda t: t[0])]


def _lookalikes(source: Source) -> Iterator[Problem]:
    """Comments that look like an arranging or expecting line and are none, or nearly none."""
    words = "|".join(sorted({*_DIRECTIVES, *_EXPECTING}))
    for found in re.finditer(rf"(?i);[ \t]*(-->[ \t]+(?:{words})\b.*)", source.text):
        before = source.text[source.text.rfind("\n", 0, found.start()) + 1 : found.start()]
        if not before.lstrip().startswith("--") and before.count("'") % 2 == 0:
            hint = "an expecting line stands alone, below its statement"
            yield Problem("01000", "this is a comment: nothing is expected", Span(*found.span(1)), hint, source)
    for found in re.finditer(rf"(?im)^[ \t]*(--\s*-*>+\s*|--\s*#\s*)(?:{words})\b", source.text):
        sign = found[1].strip()
        if found[1] == sign or sign not in ("-->", "--#"):
            right = "-->" if ">" in sign else f"--{sign[-1]}"
            message = f"`{sign}` is a comment" if sign != right else f"a blank is missing behind `{sign}`"
            hint = f"write {right}, and a blank behind it"
            span = Span(found.start(1), found.start(1) + len(sign))
            yield Problem("01000", message, span, hint, source)


def read_script(path: Path | str, text: str | None = None) -> Script:
    """Read a script from its file, or from a text given for it."""
    name = str(path)
    try:
        source = read_text(path) if text is None else Source(text, name)
    except ProblemError as error:
        return Script(name, Source("", name), [], list(error.problems), [], [])
    store = in_use()
    if store is None or text is not None:
        return read_source(name, source)
    script: Script = store.parsed(f"script {name}", source.text, lambda: read_source(name, source))
    return script


def read_source(name: str, source: Source) -> Script:
    """Read a script from a source."""
    return _Reader(name, source).read()


def read_typed(text: str, session: str, twin: Twin | None = None) -> Script:
    """Read a text that somebody types, whose first statements belong to a session; in a case that runs twice."""
    reader = _Reader("typed", Source(text, "typed"))
    reader.head.twin = twin
    reader._open_case("typed", Span(0, 0))
    reader.session = session
    script = reader.read()
    return replace(script, session=reader.session)


__all__ = ["MAIN", "NOWHERE", "Case", "Script", "StatementStep", "Step", "Turn", "Wait", "read_script"]


def _session_settings(fail: Fail, words: list[str], span: Span) -> dict[str, str | float | bool]:
    """isolation LEVEL, autocommit on or off, patience TIME."""
    settings: dict[str, str | float | bool] = {}
    while words:
        word = words.pop(0).lower()
        if word == "isolation":
            level = next(
                (v for v in ISOLATION_LEVELS if [w.lower() for w in words[: len(v.split())]] == v.split()), None
            )
            if level is None:
                fail("an isolation level is missing", span, ", ".join(ISOLATION_LEVELS))
            settings["isolation"] = level
            del words[: len(level.split())]
        elif word == "autocommit" and words and words[0].lower() in ("on", "off"):
            settings["autocommit"] = words.pop(0).lower() == "on"
        elif word == "patience" and words:
            settings["patience"] = _duration(fail, words.pop(0), span)
        else:
            known = ("isolation", "autocommit", "patience")
            fail(
                f"`{word}` is no setting of a session",
                span,
                nearest(word, known) or "isolation, autocommit on|off, patience 5s",
            )
    return settings


def _check_expression(fail: Fail, text: str, at: int) -> None:
    """Whether a text is an expression; `at` is its offset."""
    try:
        parse_expression(Source(text))
    except ProblemError as error:
        problem = error.problems[0]
        place = Span(at + problem.span.start, at + max(problem.span.end, problem.span.start + 1))
        fail(problem.message, place, problem.hint)


def _duration(fail: Fail, text: str, span: Span) -> float:
    match = re.match(_DURATION, text)
    if match is None:
        fail(f"`{text}` is no duration", span, "such as 5s, 200ms or 1m")
    seconds = float(match[1]) * {"ms": 0.001, "s": 1.0, "m": 60.0}[match[2]]
    if seconds > MOST_SECONDS:
        fail(f"`{text[:40]}` is too long", span, "100 days at most")
    return seconds
