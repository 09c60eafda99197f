"""Drawings by their structure: which texts and parts the files have, in a world that is not the demo: toll bridges."""

from __future__ import annotations

import random
import re
import subprocess
import sys
import time
import xml.etree.ElementTree as ET
from collections import Counter
from itertools import pairwise
from pathlib import Path

import pytest

from glimb.cli import main
from glimb.commands.draw import KINDS
from glimb.lang.parser import parse
from glimb.lang.source import Source
from glimb.report.drawings import calls, facts, ladder, paper, rows, times, weave
from glimb.report.drawings.graphs import layered, stacked
from glimb.report.drawings.paper import Area, Drawing, Line, Words, cells, folded, pages
from glimb.report.drawings.twin import differences
from glimb.suite.about import about
from glimb.suite.project import open_project
from glimb.suite.replay import replay
from glimb.suite.runner import Runner
from glimb.suite.script import read_script
from glimb.suite.tables import shown_at
from glimb.suite.timing import Timed, Times
from glimb.suite.uses import CALLS, CHANGES, READS, uses
from glimb.suite.weave import make_loom
from glimb.suite.weave import weave as weave_all
from glimb.suite.weave_web import Web
from glimb.suite.workbench import Workbench
from glimb.suite.world import build
from terminals import Opener

TOLLS = {
    "glimb.toml": 'title = "Toll bridges"\nfixture = "small"\n',
    "schema/t.sql": (
        "CREATE TABLE bridge (id INTEGER PRIMARY KEY, name VARCHAR(20) NOT NULL, near INTEGER REFERENCES bridge);\n"
        "CREATE TABLE fee (bridge INTEGER REFERENCES bridge, axles INTEGER, amount DECIMAL(6,2), PRIMARY KEY (bridge, axles));\n"
        "CREATE TABLE crossing (id INTEGER PRIMARY KEY, bridge INTEGER REFERENCES bridge, paid DECIMAL(6,2), note VARCHAR(40));\n"
        "CREATE TABLE audit (n INTEGER GENERATED ALWAYS AS IDENTITY PRIMARY KEY, what VARCHAR(60));\n"
        "CREATE VIEW dear AS SELECT b.name, f.amount FROM bridge b JOIN fee f ON f.bridge = b.id WHERE f.amount > 5;\n"
        "CREATE TRIGGER noted AFTER INSERT ON crossing REFERENCING NEW ROW AS n FOR EACH ROW\n"
        "  INSERT INTO audit (what) VALUES ('crossing ' || CAST(n.id AS VARCHAR(10)));\n"
    ),
    "routines/r.sql": (
        "CREATE FUNCTION fee_for (b INTEGER, a INTEGER) RETURNS DECIMAL(6,2)\nREADS SQL DATA\nBEGIN\n"
        "  DECLARE f DECIMAL(6,2);\n  SELECT amount INTO f FROM fee WHERE bridge = b AND axles = a;\n"
        "  IF f IS NULL THEN\n    IF a > 2 THEN RETURN fee_for(b, a - 1) * 1.50; END IF;\n    RETURN 0;\n  END IF;\n"
        "  RETURN f;\nEND;\n"
        "CREATE PROCEDURE cross_over (IN cid INTEGER, IN b INTEGER, IN a INTEGER, OUT paid DECIMAL(6,2))\n"
        "MODIFIES SQL DATA\nBEGIN\n  DECLARE EXIT HANDLER FOR SQLSTATE '23505' SET paid = -1;\n  SET paid = fee_for(b, a);\n"
        "  INSERT INTO crossing VALUES (cid, b, paid, 'a 山 & <b> $x$ \"q\"');\nEND;\n"
        "CREATE PROCEDURE many (IN n INTEGER)\nMODIFIES SQL DATA\nBEGIN\n  DECLARE i INTEGER DEFAULT 0;\n"
        "  DECLARE p DECIMAL(6,2);\n  WHILE i < n DO SET i = i + 1; CALL cross_over(1000 + i, 1, MOD(i, 7) + 1, p); END WHILE;\nEND;\n"
        "CREATE FUNCTION dear_ones () RETURNS TABLE (name VARCHAR(20)) READS SQL DATA RETURN SELECT name FROM dear;\n"
    ),
    "fixtures/small/bridge.csv": 'id,name,near\n1,North,\n2,South,1\n3,"Old, long",2\n',
    "fixtures/small/fee.csv": "bridge,axles,amount\n1,2,3.50\n1,3,6.00\n2,2,4.25\n",
    "sheets/fee_for.csv": "b,a,value\n1,2,3.50\n2,3,6.38\n9,9,7\n",
    "cases/t.sql": (
        "--# case paid twice\nCALL cross_over(10, 1, 2, ?);\n--> value paid = 3.50\nCALL cross_over(10, 1, 2, ?);\n"
        "--> value paid = -1\nSELECT fee_for(2, 5);\n--> value 9.57\nSELECT id, note FROM crossing ORDER BY id;\nCOMMIT;\n\n"
        "--# case three drivers\n--# session left\nUPDATE bridge SET name = 'L' WHERE id = 1;\n"
        "--# session mid\nUPDATE bridge SET name = 'M' WHERE id = 2;\n"
        "--# session right\nUPDATE bridge SET name = 'R' WHERE id = 3;\n--# session left\nUPDATE bridge SET name = 'LL' WHERE id = 2;\n"
        "--# session mid\nUPDATE bridge SET name = 'MM' WHERE id = 3;\n--# session right\nSAVEPOINT a;\n"
        "UPDATE bridge SET name = 'RR' WHERE id = 1;\n--> deadlock\n--# session mid\nCOMMIT;\n--# session left\nROLLBACK;\n\n"
        "--# case two settle\n--# session one\nUPDATE fee SET amount = amount + 1 WHERE axles = 2 AND bridge = 1;\nCOMMIT;\n"
        "--# session two\nUPDATE fee SET amount = amount * 2 WHERE axles = 2 AND bridge = 1;\nCOMMIT;\n"
        "--> holds (SELECT amount FROM fee WHERE bridge = 1 AND axles = 2) = 9.00\n\n"
        "--# case two readers\n--# twin model = locking | versions\n--# session one\nUPDATE fee SET amount = 1 WHERE bridge = 1;\n"
        "--# session two\nSELECT COUNT(*) FROM fee WHERE amount = 1;\n--# session one\nCOMMIT;\n\n"
        "--# case many cross\nCALL many(300);\n\n"
        "--# case many rounds\nBEGIN\n  DECLARE i INTEGER DEFAULT 0;\n  WHILE i < 100000 DO SET i = i + 1; END WHILE;\nEND;\n\n--# case nothing at all\n"
    ),
}


@pytest.fixture
def tolls(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """The project, in a folder of its own, in which one stands."""
    root = tmp_path / "tolls"
    for name, text in TOLLS.items():
        (root / name).parent.mkdir(parents=True, exist_ok=True)
        (root / name).write_text(text)
    monkeypatch.chdir(root)
    return root


def texts_of(path: Path) -> dict[str, list[str]]:
    """The texts of an SVG, by the first part of the name that each has; those without one below an empty name."""
    found: dict[str, list[str]] = {"": []}
    for group in ET.parse(path).iter("{http://www.w3.org/2000/svg}g"):
        for text in group.findall("{http://www.w3.org/2000/svg}text"):
            name = (
                re.sub(r"(-[\w.]+)?$", "", group.get("id", ""), count=1)
                if "-" in group.get("id", "")
                else group.get("id", "")
            )
            found.setdefault("" if name.startswith("text_") else name, []).append("".join(text.itertext()))
    return found


DRAWN = {
    "ladder cases/t.sql -k twice": (
        "CALL cross_over(10, 1, 2, ?)",
        "seen 14.36",
        "expected 9.57",
        "+1 crossing",
        "committed",
    ),
    "ladder cases/t.sql -k drivers": (
        "left",
        "mid",
        "right",
        "waits for mid on bridge (2)",
        "40001 deadlock",
        "rolled back",
    ),
    "ladder cases/t.sql -k nothing": ("expectations: 0 met",),
    "climb cases/t.sql -k twice --rung 3": (
        "rung 3: SELECT fee_for(2, 5)",
        "case: paid twice",
        "RETURN: 14.36",
        "a = 5",
    ),
    "climb cases/t.sql -k twice --rung 4": ("nothing happens inside this statement",),
    "climb cases/t.sql -k rounds": ("i: 0 → 1", "are folded", "100,000 rounds"),
    "climb cases/t.sql -k rounds --round 70000": ("i: 69999 → 70000", "rounds are folded here"),
    "climb cases/t.sql -k cross": ("WHILE", "300 rounds", "stand below", "steps that are not drawn"),
    "survey": ("fee_for", "cross_over", "scalar function", "asserted", "statements", "unknown"),
    "weave cases/t.sql -k settle": ("fixture", "does not hold", "one 1", "two 2", "row fee (1, 2) amount 3.50 -> 8.00"),
    "twin cases/t.sql -k readers": ("model locking", "model versions", "first difference at rung 2", "≠"),
    "twin cases/t.sql -k twice --set 'model = locking | versions'": ("no difference",),
    "calls": ("fee_for", "calls", "reads rows of", "changes rows of", "fires (a trigger)", "table function", "view"),
    "calls --of dear": ("What dear uses, and what uses it", "dear_ones", "fee"),
    "tables": ("bridge", "3 rows", "DECIMAL(6,2)", "3.50, 6.00", "primary key"),
    "times": ("Cases", "paid twice", "new"),
    "routine fee_for": ("fee_for(INTEGER, INTEGER)", "calls fee_for", "  DECLARE f DECIMAL(6,2);", "reads fee"),
    "rows bridge": ("id INTEGER", "'Old, long'", "NULL"),
    "sheet sheets/fee_for.csv": ("3.50", "seen 0", "2 met", "1 slipped"),
    "findings": ("unused-variable", "take it out, or use it"),
}


@pytest.mark.parametrize("line", DRAWN)
def test_kinds(line: str, tolls: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Every kind from the command line: what must be in it, the title, the project, the clock, a legend; an SVG without
    anything outside of its page, and again the same bytes."""
    arguments = ["draw", *(part.strip("'") for part in re.findall(r"'[^']*'|\S+", line))]
    assert main([*arguments, "-o", "o/a.svg"]) == 0
    told = capsys.readouterr()
    assert told.out.splitlines()[-1] == "o/a.svg"
    root = ET.parse("o/a.svg").getroot()
    words = texts_of(Path("o/a.svg"))
    every = [text for some in words.values() for text in some]
    for text in DRAWN[line]:
        assert any(text in one for one in every), (text, every)
    assert len(words["title"]) == 1
    assert "project Toll bridges" in words["facts"][0]
    assert any("clock 2030-01-01 09:00" in text for text in every)
    width, height = (float(root.get(name, "").removesuffix("pt")) for name in ("width", "height"))
    for element in root.iter("{http://www.w3.org/2000/svg}text"):
        x, y = map(float, re.findall(r"-?[\d.]+", element.get("transform", "")))
        assert 0 <= x <= width
        assert 0 <= y <= height
    if not line.startswith("times"):
        assert main([*arguments, "-o", "o/b.svg"]) == 0
        assert Path("o/a.svg").read_bytes() == Path("o/b.svg").read_bytes()


def test_every_kind_is_tried() -> None:
    assert {line.split()[0] for line in DRAWN} == set(KINDS)


def test_pdf(tolls: Path) -> None:
    """Fonts are embedded, a long ladder has many pages with repeated heads, the same input gives the same bytes."""
    calls_ = "".join(f"SELECT {n} + 1;\n--> value {n + 1}\n" for n in range(300))
    Path("cases/long.sql").write_text(f"--# case three hundred\n--# session desk\n{calls_}COMMIT;\n")
    assert main(["draw", "ladder", "cases/long.sql", "-o", "long.pdf"]) == 0
    content = Path("long.pdf").read_bytes()
    count = content.count(b"/Type /Page\n") or content.count(b"/Type /Page ")
    assert content.count(b"/FontFile2") == content.count(b"/Type /FontDescriptor") >= 3
    assert main(["draw", "ladder", "cases/long.sql", "-o", "again.pdf"]) == 0
    assert Path("again.pdf").read_bytes() == content
    made = drawn_ladder(Path("cases/long.sql"), "three")
    laid = pages(made, paper.A4[1])
    assert len(laid) == count > 10
    for number, page in enumerate(laid, 1):
        words = [mark.text for mark in page.marks if isinstance(mark, Words)]
        assert "desk" in words
        assert f"page {number} of {len(laid)}" in words
        assert page.height == paper.A4[1]
    names = [mark.name for page in laid for mark in page.marks if isinstance(mark, Words)]
    assert [f"rung-{n}" for n in range(1, 302)] == [name for name in names if name.startswith("rung-")]


def drawn_ladder(path: Path, word: str) -> Drawing:
    script = read_script(path)
    case = next(c for c in script.cases if word in c.title)
    found = Runner().run_case(script, case).ladder
    assert found is not None
    return ladder.drawing(found, facts.of_case(open_project(path.parent), path, case, found))


def test_what_is_on_a_ladder(tolls: Path) -> None:
    """Each rung once, in its lane; a mark for each lock taken, each wait, each expectation; the deadlock as a ring."""
    made = drawn_ladder(Path("cases/t.sql"), "three drivers")
    (page,) = pages(made, None)
    named = {mark.name: mark for mark in page.marks if isinstance(mark, Words) and mark.name}
    lanes = {name: named[f"session-{name}"].x for name in ("left", "mid", "right")}
    script = read_script(Path("cases/t.sql"))
    found = Runner().run_case(script, script.cases[1]).ladder
    assert found is not None
    for rung in found.rungs:
        assert named[f"rung-{rung.number}"].x == lanes[rung.session]
        assert named[f"rung-{rung.number}"].text in rung.text
    modes = Counter(
        m.text for m in page.marks if isinstance(m, Words) and m.text in ("X", "IX") and m.anchor == "middle"
    )
    assert modes == Counter(
        mode for name in lanes for group in found.groups(name) for spell in group.spells for _, mode in spell.modes
    )
    circle = [named[name].text for name in named if name.startswith("circle-")]
    assert len(circle) == 3
    assert sum(isinstance(m, Words) and m.text.endswith("ended") for m in page.marks) == 1
    arrows = [m for m in page.marks if isinstance(m, Line) and m.dash == (3.0, 2.0)]
    assert len(arrows) >= sum(rung.outcome.waiting is not None for rung in found.rungs) == 2


def test_all_stays_on_the_page_and_in_its_band(tolls: Path) -> None:
    """Nothing is drawn beyond the edges of its page; words of a rung neither leave its band nor run over one another."""
    for word in ("paid", "three", "settle", "cross", "nothing"):
        made = drawn_ladder(Path("cases/t.sql"), word)
        for height in (None, paper.A4[1]):
            for page in pages(made, height):
                for mark in page.marks:
                    points = [(mark.x, mark.y)] if isinstance(mark, Words) else mark.points
                    assert all(0 <= x <= page.width and 0 <= y <= page.height for x, y in points)
        for band in made.bands:
            page = paper.Page(made.width, 10_000)
            band.draw(page, 100.0)
            spots = []
            for mark in page.marks:
                ys = [mark.y] if isinstance(mark, Words) else [y for _, y in mark.points]
                assert all(98 <= y <= 102 + band.height for y in ys), mark
                if isinstance(mark, Words) and mark.anchor == "left":
                    spots.append((mark.y, mark.x, mark.x + paper.width_of(mark.text, mark.size)))
            for (y, _, right), (other, left, _) in pairwise(sorted(spots)):
                assert other - y > 5 or left >= right - 0.01


def test_files_of_others_stay(tolls: Path, capsys: pytest.CaptureFixture[str]) -> None:
    Path("x.svg").write_text("<svg xmlns='http://www.w3.org/2000/svg'/>")
    Path("x.pdf").write_bytes(b"%PDF-1.4 of somebody")
    before = Path("x.svg").read_bytes()
    for file in ("x.svg", "x.pdf"):
        assert main(["draw", "tables", "-o", file]) == 2
        assert f"{file} is no drawing, and stays as it is" in capsys.readouterr().err
    assert Path("x.svg").read_bytes() == before
    assert main(["draw", "tables", "-o", "x.png"]) == 2
    assert ".svg or .pdf" in capsys.readouterr().err
    assert not Path("x.png").exists()


@pytest.mark.parametrize(("package", "line"), [("matplotlib", "tables"), ("igraph", "calls")])
def test_packages_that_are_missing(
    package: str, line: str, tolls: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setitem(sys.modules, package, None)
    assert main(["draw", line]) == 2
    assert capsys.readouterr().err == "glimb: drawings need two more packages (pip install 'glimb[draw]')\n"


def test_packages_are_imported_for_drawings_only() -> None:
    code = "import sys, glimb.tui.app, glimb.commands.draw, glimb.commands.run; print({'matplotlib', 'igraph'} & set(sys.modules))"
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True).stdout == "set()\n"


WRONG = {
    "ladder cases/t.sql -k nobody": "no cases with `nobody` in the title",
    "ladder no.sql": "there is no file no.sql",
    "climb cases/t.sql -k twice --rung 9": "there is no rung 9 (there are rungs 1 to 5)",
    "weave cases/t.sql -k twice": "weaving needs a case of two sessions or more",
    "twin cases/t.sql -k twice": "the case runs once",
    "twin cases/t.sql -k twice --set model=x|y": "there is no model `x`",
    "calls --of nobody": "there is nothing named nobody",
    "tables --fixture no": "there is no fixture no",
    "rows no": "there is no table no",
    "routine no": "no routines are named no",
    "sheet no.csv": "No such file",
}


@pytest.mark.parametrize("line", WRONG)
def test_what_cannot_be_drawn(line: str, tolls: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["draw", *line.split(), "-o", "o.svg"]) == 2
    assert WRONG[line] in capsys.readouterr().err
    assert not Path("o.svg").exists()


@pytest.mark.parametrize("word", ["two settle", "three drivers"])
def test_ways_of_a_weave_against_all_orders(word: str, tolls: Path) -> None:
    """How many orders go each way, and how many of these end broken, by trying every order by itself."""
    loom = make_loom(
        Path("cases/t.sql"), next(c.title for c in read_script(Path("cases/t.sql")).cases if word in c.title)
    )
    web = Web()
    *_, woven = weave_all(loom, web=web)
    broken = {g.ended for g in woven.groups.values() if g.broken}
    expected: Counter[object] = Counter()
    bad: Counter[object] = Counter()

    def deeper(order: tuple[str, ...]) -> None:
        loom.replay(order)
        ready = loom.can_go()
        if not ready:
            ways = list(web.along(order))
            assert [way.session for way in ways] == list(order)
            assert ways[-1].end == loom.ended()
            expected.update(ways)
            bad.update(ways if ways[-1].end in broken else ())
        for name in ready:
            deeper((*order, name))

    deeper(())
    for way, count in zip(web.ways, web.counts(broken), strict=True):
        assert (count.orders, count.broken) == (expected[way], bad[way])
    drawn = weave.drawing(woven, [])
    (page,) = pages(drawn, None)
    named = [mark.name for mark in page.marks if isinstance(mark, Words)]
    assert sum(name.startswith("group-") for name in named) == len(woven.groups)
    states = [m for m in page.marks if isinstance(m, Area) and len(m.points) in (20, 4) and m.edge]
    assert len(states) >= len(web.levels)


def test_what_uses_what_is_what_a_routine_tells(tolls: Path) -> None:
    engine = build(open_project(tolls), "")
    found = uses(engine.catalog)
    views = {thing for thing in found.things if thing.kind == "view"}
    for routine in engine.catalog.written_routines():
        told = about(engine, routine, (), ())
        for verb, names in ((CALLS, told.calls), (READS, told.reads), (CHANGES, told.changes)):
            mine = {
                link.used.name
                for link in found.links
                if (link.user.name, link.verb) == (routine.name, verb) and link.used not in views
            }
            assert mine == set(names), (routine.name, verb)
    links = {(link.user.name, link.verb, link.used.name) for link in found.links}
    assert {
        ("crossing", "fires", "noted"),
        ("noted", "changes", "audit"),
        ("dear_ones", "reads", "dear"),
        ("dear", "reads", "fee"),
    } <= links
    things, kept = calls.around(found, "noted")
    assert {thing.name for thing in things} == {"noted", "audit", "crossing", "cross_over", "many"}
    assert kept


def test_a_weave_that_was_stopped(tolls: Path) -> None:
    """Before any order has come to its end: what there is is drawn, and that it is not all."""
    rounds = weave_all(make_loom(Path("cases/t.sql"), "three drivers"), web=Web())
    next(rounds)
    woven = next(rounds)
    made = weave.drawing(woven, [])
    assert made.left_out[0].startswith("stopped: 0 of 1,680 orders")
    assert len(pages(made, None)) == 1


def test_what_is_told_of_a_ladder_that_is_worked_on(tolls: Path) -> None:
    """The clock and the side that it runs with, as of one that is not."""
    text = "--# case later\n--# clock 2031-05-06 07:08:09\n--# twin model = locking | versions\nSELECT 1;\n"
    Path("cases/c.sql").write_text(text)
    script = read_script(Path("cases/c.sql"))
    bench = Workbench(replay(open_project(tolls), script, script.cases[0], "locking"))
    bench.begin()
    told = facts.of_case(open_project(tolls), script.path, script.cases[0], bench.view().ladder)
    assert told[-2:] == ["model locking", "clock 2031-05-06 07:08"]


@pytest.mark.parametrize("kept", ["", "[1]", '{"cases": [1, 2]}', '{"cases": {"a": "b"}}', "{"])
def test_times_beside_what_is_no_time(kept: str, tolls: Path) -> None:
    Path(".glimb").mkdir()
    Path(".glimb/times.json").write_text(kept)
    assert main(["draw", "times", "-k", "twice", "-o", "t.svg"]) == 0
    assert any("new" in text for text in texts_of(Path("t.svg"))[""])


def test_a_twin_is_marked_where_it_differs(tolls: Path) -> None:
    script = read_script(Path("cases/t.sql"))
    result = Runner().run_case(script, script.cases[3])
    assert differences(*result.ladders) == {2: "≠"}
    assert differences(result.ladders[0], result.ladders[0]) == {}


def test_layers() -> None:
    """Random graphs: without circles all edges go to later layers; boxes of a layer stand apart; lines have a place in
    each layer between."""
    chance = random.Random(7)
    for _ in range(60):
        count = chance.randrange(0, 25)
        pairs = [(a, b) for a in range(count) for b in range(a + 1, count) if chance.random() < 0.15]
        laid = layered(count, pairs)
        assert all(laid.layers[a] < laid.layers[b] for a, b in pairs)
        for (a, b), route in zip(pairs, laid.routes, strict=True):
            assert [laid.layers[node] for node in (a, *route, b)] == list(range(laid.layers[a], laid.layers[b] + 1))
        heights = [chance.choice((10.0, 60.0)) for _ in range(count)]
        tops = stacked(laid, heights, 5, 20)
        assert min(tops, default=0.0) == 0
        for layer in set(laid.layers):
            spots = sorted((tops[n], heights[n]) for n in range(count) if laid.layers[n] == layer)
            assert all(top + height + 5 <= other + 1e-6 for (top, height), (other, _) in pairwise(spots))
    round_about = layered(3, [(0, 1), (1, 2), (2, 0), (1, 1)])
    assert len(round_about.layers) >= 3


def test_large_projects(tolls: Path) -> None:
    """200 routines, more tables than are drawn: boxes do not touch, what is left out is told."""
    text = "".join(
        f"CREATE FUNCTION f{n} (a INTEGER) RETURNS INTEGER READS SQL DATA RETURN a{''.join(f' + f{m}(a)' for m in {n // 2, n // 3} if m < n)}"
        f" + (SELECT COUNT(*) FROM {('fee', 'bridge', 'audit')[n % 3]});\n"
        for n in range(200)
    )
    Path("routines/more.sql").write_text(text)
    Path("schema/more.sql").write_text("".join(f"CREATE TABLE x{n} (id INTEGER PRIMARY KEY);\n" for n in range(310)))
    assert main(["draw", "calls", "-o", "c.svg"]) == 0
    words = texts_of(Path("c.svg"))
    assert {f"f{n}" for n in range(200)} <= set(words["scalar function"])
    assert main(["draw", "tables", "-o", "t.svg"]) == 0
    assert texts_of(Path("t.svg"))["left"] == ["the first 300 of 314 tables are drawn"]
    engine = build(open_project(tolls), "")
    found = uses(engine.catalog)
    picture = calls.Picture(found.things, found.links)
    boxes = sorted((picture.layout.layers[n], picture.tops[n]) for n in range(len(found.things)))
    assert all(a != b or other - top >= calls.HEIGHT for (a, top), (b, other) in pairwise(boxes))


def test_a_weave_of_many_states(tolls: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """More states than are drawn: the order of each way to end is there, and what is left out is told."""
    loom = make_loom(Path("cases/t.sql"), "three drivers")
    web = Web()
    *_, woven = weave_all(loom, web=web)
    monkeypatch.setattr(weave, "MOST_STATES", 40)
    picture = weave.Picture(woven)
    assert 40 <= len(picture.states) < len(web.levels)
    assert "states are drawn" in picture.left_out[0]
    ways = {way for way, _ in picture.ways}
    assert all(set(web.along(group.order)) <= ways for group in woven.ranked())


def test_folding() -> None:
    for text in ("a" * 50, "one two three four five six", "山" * 30, "", "x(yyyyyy, zzzzzz)\nb", "  indented by two"):
        rows = folded(text, 12)
        assert all(cells(row) <= 12 for row in rows)
        assert "".join("".join(rows).split()) == "".join(text.split())
    assert folded("a\nb\nc\nd", 10, 3) == ["a", "b", "… 2 lines more"]


def test_on_every_screen(tolls: Path, open_terminal: Opener) -> None:
    """P on every screen writes what it shows; what cannot be written is told, and nothing ends."""
    terminal = open_terminal(tolls)
    terminal.until("paid twice")
    terminal.keys("a")
    terminal.until("coverage")
    drawn = tolls / "drawings"

    def draw(word: str, *files: str) -> None:
        for number, file in enumerate(files):
            terminal.keys("P")
            if len(files) > 1:
                terminal.until("What is to be drawn?")
                terminal.keys(*["Down"] * number, "Enter")
            terminal.until(f"drawings/{file}.svg", "Esc leaves it")
            terminal.keys("Enter")
            end = time.monotonic() + 30
            while not (drawn / f"{file}.svg").exists():
                assert time.monotonic() < end, terminal.screen()
                time.sleep(0.05)
            assert word in (drawn / f"{file}.svg").read_text()

    draw("cross_over", "survey", "calls")
    terminal.keys("Enter")
    terminal.until("Ladder", "o: the next statement")
    draw("expected 9.57", "ladder-paid-twice")
    terminal.keys("Enter")
    terminal.until("Climb", "RETURN fee_for")
    draw("RETURN: 14.36", "climb-paid-twice-3")
    terminal.keys("R")
    terminal.until("Routine", "fee_for(")
    draw("fee_for", "routine-fee_for", "calls-fee_for")
    terminal.keys("C")
    terminal.until("Call sheet", "value")
    terminal.until("1 slipped")
    draw("seen 0", "sheet-fee_for")
    terminal.keys("F")
    terminal.until("unused-variable")
    draw("take it out, or use it", "findings")
    terminal.keys("S")
    terminal.until("Survey")
    terminal.keys("T")
    terminal.until("Tables", "bridge")
    draw("audit", "rows-audit", "tables")
    (drawn / "tables.svg").write_text("mine")
    terminal.keys("P", "Down", "Enter", "Enter")
    terminal.until("is no drawing, and stays as it is")
    assert (drawn / "tables.svg").read_text() == "mine"


TIMES = """
48 36 How long cases and routines take #1f2a33 True
63 36 project x   3 cases   1.51 s together   least of three runs #5b6875 False
84 60 this run #5b6875 False
84 134 the last run; its ratio where that is 1.5 or more #5b6875 False
116 36 Cases #1f2a33 True
135 36 a case with a name that is far too long to stand in the ro… #1f2a33 False
143 36 cases/a.sql #5b6875 False
136 722 1.50 s #1f2a33 True
136 806 new #5b6875 False
156 36 slower #1f2a33 False
164 36 cases/a.sql #5b6875 False
157 722 6.00 ms #1f2a33 True
157 806 was 4.00 ms ×1.5 #8a5a00 True
177 36 as before #1f2a33 False
185 36 cases/b.sql #5b6875 False
178 722 4.00 ms #1f2a33 True
178 806 was 3.90 ms #5b6875 False
209 36 Routines, by the statements in which each ran (one within another counts for both) #1f2a33 True
228 36 quicker #1f2a33 False
236 36 routines/r.sql #5b6875 False
229 722 2 µs #1f2a33 True
229 806 was 9 µs ×0.2 #8a5a00 True
bar 336 656 136
bar 336 337 158
bar 336 337 162
bar 336 337 178
bar 336 337 184
bar 336 407 230
bar 336 656 234
"""


def test_times() -> None:
    """What is told stands in its columns; bars are as long as the times, beside the longest."""
    long = "a case with a name that is far too long to stand in the room that there is for names"
    cases = [Timed("cases/a.sql", long, 1.5, None), Timed("cases/a.sql", "slower", 0.006, 0.004)]
    cases.append(Timed("cases/b.sql", "as before", 0.004, 0.0039))
    made = times.drawing(Times(cases, [Timed("routines/r.sql", "quicker", 2e-6, 9e-6)]), ["project x"])
    (page,) = pages(made, None)
    words = [f"{m.y:.0f} {m.x:.0f} {m.text} {m.colour} {m.bold}" for m in page.marks if isinstance(m, Words)]
    bars = [m.points for m in page.marks if isinstance(m, Area) and m.points[0][0] == 336]
    bars_told = [f"bar {min(x for x, _ in p):.0f} {max(x for x, _ in p):.0f} {max(y for _, y in p):.0f}" for p in bars]
    assert [*words, *bars_told] == TIMES.strip().splitlines()


ROWS = """
closure #1f2a33 True
x   4 rows   key id #5b6875 False
+ #1f2a33 True
added since the fixture #5b6875 False
~ #1f2a33 True
changed since the fixture #5b6875 False
- #1f2a33 True
removed since the fixture #5b6875 False
id INTEGER #5b6875 False
hut CHAR(4) #5b6875 False
first_day DATE #5b6875 False
last_day DATE #5b6875 False
reason VARCHAR(30) #5b6875 False
~ #1f2a33 True
2 #1f2a33 False
'LUND' #1f2a33 False
DATE '2031-05-01' #1f2a33 False
NULL #5b6875 True
was DATE '2031-06-20' #5b6875 True
'snow' #1f2a33 False
3 #1f2a33 False
'SORR' #1f2a33 False
DATE '2031-08-04' #1f2a33 False
DATE '2031-08-06' #1f2a33 False
'storm warning' #1f2a33 False
+ #1f2a33 True
77 #1f2a33 False
'VARN' #1f2a33 False
DATE '2031-01-01' #1f2a33 False
NULL #5b6875 False
'new' #1f2a33 False
- #1f2a33 True
1 #1f2a33 False
'GRAT' #1f2a33 False
DATE '2031-07-01' #1f2a33 False
NULL #5b6875 False
'roof repair' #1f2a33 False
"""


def test_rows_behind_a_rung() -> None:
    """What became of each row stands before it, strongly; what a cell was stands below it."""
    project = open_project(Path(__file__).parent.parent / "demo")
    engine, fixture = Runner().world(project, "valley"), Runner().world(project, "valley")
    for text in (
        "DELETE FROM closure WHERE id = 1",
        "UPDATE closure SET reason = 'snow', last_day = NULL WHERE id = 2",
        "INSERT INTO closure VALUES (77, 'VARN', DATE '2031-01-01', NULL, 'new')",
    ):
        source = Source(text)
        assert engine.execute(engine.session("main"), parse(source).statements[0], source)[0].failure is None
    (page,) = pages(rows.drawing(shown_at(engine, fixture, "closure", "id < 4 OR id > 70", "id", "main"), ["x"]), None)
    assert "\n".join(f"{m.text} {m.colour} {m.bold}" for m in page.marks if isinstance(m, Words)) == ROWS.strip()
