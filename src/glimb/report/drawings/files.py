"""Drawings as files: SVG 1.1, one page as high as it needs, or PDF with as many pages as it needs.

Text stays text in SVG, fonts are embedded in PDF; the same drawing gives the same bytes. matplotlib writes the files:
it has both formats, the fonts, and nothing but the picture in them. It is imported here only, when a file is written.
"""

from __future__ import annotations

import re
import warnings
from io import BytesIO
from pathlib import Path
from typing import Any

from glimb.lang.problem import Problem, ProblemError
from glimb.lang.visible import visible
from glimb.report.drawings.paper import A4, Area, Drawing, Line, Page, Words, pages
from glimb.whole import write_whole

FORMATS = (".svg", ".pdf")
MADE_BY = "glimb"
FIXED, PLAIN = "DejaVu Sans Mono", "DejaVu Sans"
"""Fonts that come with matplotlib, in this order with what a reader of an SVG may have in their place."""
SETTINGS: dict[Any, Any] = {
    "svg.fonttype": "none",
    "svg.hashsalt": MADE_BY,
    "pdf.fonttype": 42,
    "hatch.linewidth": 0.6,
    "path.simplify": False,
    "text.parse_math": False,
}


def document(drawing: Drawing, suffix: str) -> bytes:
    """A drawing as the bytes of a file with this suffix. ProblemError where what draws is not installed, or the suffix
    is none of `FORMATS`."""
    if suffix not in FORMATS:
        raise ProblemError(
            Problem("0A000", f"a drawing is written as .svg or .pdf, not as {suffix or 'a file without one'}")
        )
    try:
        import matplotlib
    except ImportError:
        raise missing() from None
    with matplotlib.rc_context(SETTINGS), warnings.catch_warnings():
        warnings.filterwarnings("ignore", message="Glyph .* missing from")  # another font shows it, or a box
        return _svg(drawing) if suffix == ".svg" else _pdf(drawing)


def write(drawing: Drawing, path: Path) -> None:
    """Write a drawing. ProblemError where it cannot be written, or something else than a drawing would be lost."""
    if not is_drawing(path):
        raise ProblemError(Problem("58030", f"{path} is no drawing, and stays as it is"))
    content = document(drawing, path.suffix.lower())
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        write_whole(path, content)
    except OSError as error:
        raise ProblemError(Problem("58030", f"{path}: {error.strerror}")) from None


def missing() -> ProblemError:
    """What is said when the packages that draw are not there."""
    return ProblemError(Problem("0A000", "drawings need two more packages", hint="pip install 'glimb[draw]'"))


def is_drawing(path: Path) -> bool:
    """Whether nothing is lost when a drawing takes this file's place: it is not there, empty, or a drawing of ours."""
    if not path.is_file() or not path.stat().st_size:
        return True
    content = path.read_bytes()
    if path.suffix == ".pdf":
        return content.startswith(b"%PDF") and b"/Creator (glimb)" in content
    return b"<svg" in content[:1000] and _MADE.search(content[:8000]) is not None


def _svg(drawing: Drawing) -> bytes:
    from matplotlib.backends.backend_svg import FigureCanvasSVG

    (page,) = pages(drawing, None)
    out = BytesIO()
    metadata: dict[str, Any] = {"Date": None, "Creator": MADE_BY, "Title": visible(drawing.title)}
    FigureCanvasSVG(_figure(page)).print_svg(out, metadata=metadata)  # type: ignore[no-untyped-call]
    written = out.getvalue()
    for old, new in _IN_SVG:
        written = written.replace(old, new)
    return written


_IN_SVG = (
    (b"<text style=", b'<text xml:space="preserve" style='),
    (f"font-family: '{FIXED}';".encode(), f"font-family: '{FIXED}', monospace;".encode()),
    (f"font-family: '{PLAIN}';".encode(), f"font-family: '{PLAIN}', sans-serif;".encode()),
)
"""What matplotlib does not say: blanks count, and which fonts may stand for ours. (In texts `<` is written `&lt;`.)"""
_MADE = re.compile(f"<dc:creator>\\s*<cc:Agent>\\s*<dc:title>{MADE_BY}</dc:title>".encode())


def _pdf(drawing: Drawing) -> bytes:
    from matplotlib.backends.backend_pdf import PdfPages

    out = BytesIO()
    metadata: dict[str, Any] = {
        "Creator": MADE_BY,
        "Title": visible(drawing.title),
        "CreationDate": None,
        "ModDate": None,
    }
    with PdfPages(out, metadata=metadata) as pdf:
        for page in pages(drawing, A4[1]):
            figure = _figure(page)
            pdf.savefig(figure)
    return out.getvalue()


def _figure(page: Page) -> Any:
    """A page as a figure whose units are points from the upper left corner."""
    from matplotlib.figure import Figure
    from matplotlib.lines import Line2D
    from matplotlib.patches import Polygon

    figure = Figure(figsize=(page.width / 72, page.height / 72), dpi=72)
    axes = figure.add_axes((0, 0, 1, 1))
    axes.set_xlim(0, page.width)
    axes.set_ylim(page.height, 0)
    axes.set_axis_off()
    for order, mark in enumerate(page.marks):
        match mark:
            case Line(points, colour, width, dash):
                xs, ys = zip(*points, strict=True)
                line = Line2D(xs, ys, color=colour, linewidth=width, zorder=order, clip_on=False)
                if dash:
                    line.set_linestyle((0, dash))
                axes.add_artist(line)
            case Area(points, fill, edge, width, hatch):
                face, rim = fill or "none", edge or "none"
                area = Polygon(points, closed=True, facecolor=face, edgecolor=rim, linewidth=width, hatch=hatch or None)
                area.set(zorder=order, clip_on=False)
                axes.add_artist(area)
            case Words():
                text = axes.text(mark.x, mark.y, mark.text, color=mark.colour, fontsize=mark.size, zorder=order)
                text.set(
                    horizontalalignment="center" if mark.anchor == "middle" else mark.anchor,
                    verticalalignment="baseline",
                    fontfamily=FIXED if mark.fixed else PLAIN,
                    fontweight="bold" if mark.bold else "normal",
                    parse_math=False,
                    gid=mark.name or None,
                    clip_on=False,
                )
    return figure
