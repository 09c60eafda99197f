"""What the command palette finds: every action of the screen that is shown, with its key; every case; every routine and
table by name."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from pathlib import Path

from textual.command import DiscoveryHit, Hit, Hits, Provider

from glimb.tui.host import Found, Host
from glimb.tui.ladder import LadderScreen
from glimb.tui.page import Page
from glimb.tui.survey import SurveyScreen


class Finder(Provider):
    """Asks the page that is shown for what can be done."""

    async def discover(self) -> Hits:
        for found in self._all():
            yield DiscoveryHit(found.name, found.act, found.name, found.told)

    async def search(self, query: str) -> Hits:
        matcher = self.matcher(query)
        for found in self._all():
            score = max(matcher.match(found.name), matcher.match(found.told) * 0.9)
            if score > 0:
                yield Hit(score, matcher.highlight(found.name), found.act, found.name, found.told)

    def _all(self) -> Iterator[Found]:
        page = self.screen
        if not isinstance(page, Page):
            return
        for key in page.KEYS:
            yield Found(key.told, f"key {key.shown()}", partial(page.run_action, key.action))
        yield from page.app.places()


def places(app: Host, survey: SurveyScreen, ladder: LadderScreen) -> Iterator[Found]:
    """Where one can go by name: cases to their ladders, routines, tables and call sheets to their pages; routines and
    tables into the open rung, while one is on the ladder."""
    for row in survey.rows:
        if row.case is not None:
            yield Found(row.title, f"case of {app.shown(row.script.path)}", partial(app.open_ladder, row))
    for routine_name, file, line in app.known_routines:
        told = f"routine of {app.shown(Path(file))}"
        yield Found(routine_name, told, partial(app.go_to_place, file, line))
    for table in app.known_tables:
        yield Found(table, "rows of the table", partial(app.go_to_table, table))
    for routine in ladder.work.words.routines if ladder.is_current else ():
        text = f"{'CALL' if routine.kind == 'procedure' else 'SELECT'} {routine.name}("
        yield Found(
            routine.name, f"{routine.kind} {routine.told}, into the open rung", partial(_type, app, ladder, text)
        )
    for name in ladder.work.words.tables if ladder.is_current else ():
        yield Found(name, "table, into the open rung", partial(_type, app, ladder, f"SELECT * FROM {name};"))


def _type(app: Host, ladder: LadderScreen, text: str) -> None:
    app.show_ladder()
    ladder.work.put(text)
