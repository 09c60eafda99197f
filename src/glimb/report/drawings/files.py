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
from glimb.report.drawings.paper import A4, Area, Drawing, Line, Page, Words, pages, width_of
from glimb.whole import write_whole

FORMATS = (".svg", ".pdf")
MADE_BY = "glimb"
FIXED, PLAIN = "DejaVu Sans Mono", "DejaVu Sans"
"""Fonts that come with matplotlib, in this order with what a reader of an SVG may have in their place."""
SETTINGS: dict[Any, Any] = {
    "svg.fonttype": "none",
    "svg.hashsalt": MADE_BY,
    "pdf.fonttype": 42,
    "path.simplify": False,
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
    suffix = path.suffix.lower()
    if suffix in FORMATS and not is_drawing(path):
        raise ProblemError(Problem("58030", f"{path} is no drawing, and stays as it is"))
    content = document(drawing, suffix)
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
    if path.suffix.lower() == ".pdf":
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
    """A page as a figure with one artist, that hands its marks to the renderer of the format: an artist of its own for
    each mark would take ten times as long."""
    from matplotlib.artist import Artist
    from matplotlib.figure import Figure

    class Marks(Artist):
        def draw(self, renderer: Any) -> None:
            _render(page, renderer)

    figure = Figure(figsize=(page.width / 72, page.height / 72), dpi=72)
    figure.add_artist(Marks(), clip=False)
    return figure


def _render(page: Page, renderer: Any) -> None:
    """Hand the marks of a page to a renderer, whose units are points from the lower left corner."""
    from matplotlib.colors import to_rgba
    from matplotlib.font_manager import FontProperties
    from matplotlib.path import Path as Outline
    from matplotlib.transforms import Affine2D

    upward = Affine2D().scale(1, -1).translate(0, page.height)
    fonts: dict[tuple[float, bool, bool], FontProperties] = {}
    for mark in page.marks:
        context = renderer.new_gc()
        match mark:
            case Line(points, colour, width, dash):
                context.set_foreground(colour)
                context.set_linewidth(width)
                context.set_capstyle("butt" if dash else "projecting")
                context.set_joinstyle("round")
                context.set_dashes(0, [length * width for length in dash] if dash else None)
                renderer.draw_path(context, Outline(points), upward, None)
            case Area(points, fill, edge, width):
                context.set_linewidth(width if edge else 0)
                context.set_foreground(edge or "#ffffff")
                context.set_joinstyle("miter")
                outline = Outline([*points, points[0]], closed=True)
                renderer.draw_path(context, outline, upward, to_rgba(fill) if fill else None)
            case Words():
                look = mark.size, mark.bold, mark.fixed
                if look not in fonts:
                    weight = "bold" if mark.bold else "normal"
                    fonts[look] = FontProperties(family=FIXED if mark.fixed else PLAIN, size=mark.size, weight=weight)
                shift = {"left": 0.0, "middle": 0.5, "right": 1.0}[mark.anchor]
                x = mark.x - shift * width_of(mark.text, mark.size)
                y = mark.y if renderer.flipy() else page.height - mark.y
                context.set_foreground(mark.colour)
                renderer.open_group("text", mark.name or None)
                renderer.draw_text(context, x, y, mark.text, fonts[look], 0)
                renderer.close_group("text")
        context.restore()
