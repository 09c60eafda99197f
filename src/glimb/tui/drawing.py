"""How the cases of the survey are drawn as lines of text, and words that all drawings need. No widgets."""

from __future__ import annotations

from glimb.report.since import Difference
from glimb.suite.results import CaseResult
from glimb.suite.script import Case, Script, StatementStep
from glimb.suite.wording import cut
from glimb.tui import palette as P
from glimb.tui.messages import CaseId
from glimb.tui.palette import Palette
from glimb.tui.text import Text


def one_line(text: str) -> str:
    """White space folded."""
    return " ".join(text.split())


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
        self.differs: tuple[Difference, ...] = ()
        """The rungs that do something else than in the run that was accepted."""

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


def rows_of(script: Script) -> list[Row]:
    """The rows of a script: one for each case, or one that says that it cannot be read."""
    if script.problems:
        return [Row((script.path, 0), script, None)]
    return [Row((script.path, number), script, case) for number, case in enumerate(script.cases)]


def script_line(shown: str, mine: list[Row], is_folded: bool, colours: Palette, width: int) -> Text:
    """The name of a script, and the signs of its cases as far as there is room."""
    signs = Text("".join(P.VERDICT_SIGNS[r.verdict] for r in mine[: max(4, width // 3)]))
    for at, row in enumerate(mine[: len(signs)]):
        signs.stylize(verdict_style(row.verdict, colours), at, at + 1)
    line = Text()
    name = cut(shown, max(8, width - len(signs) - 6))
    line.append(f" {'▸ ' if is_folded else ''}{name}  ", style=f"bold {colours.accent}")
    return line.append_text(signs)


def case_line(row: Row, colours: Palette, width: int) -> Text:
    """A case: its verdict, title, and what can be told of it where there is room."""
    sign = "▶" if row.running else P.VERDICT_SIGNS[row.verdict]
    line = Text()
    line.append(f"  {P.DIFFERS if row.differs else ' '}", style=f"bold {colours.warn}")
    line.append(f"{sign} ", style=colours.accent if row.running else verdict_style(row.verdict, colours))
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
