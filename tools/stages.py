"""python -m tools.stages: the picture of the stages in docs/stages.svg, from docs/stages.txt.

A line of the text is a stage: its name, what it is for, and behind `->` what goes on from it to the next line. A line in
brackets is a room of the stage above it.
"""

from __future__ import annotations

import re
from pathlib import Path
from xml.etree import ElementTree as ET

DOCS = Path(__file__).parent.parent / "docs"
LINE = re.compile(r"(?P<room>\[)?(?P<name>[\w/, ]+):\s*(?P<what>[^\]]*?)\s*(?:->\s*(?P<out>.+?))?\]?$")
WIDTH, STAGE, ROOM, GAP = 820, 46, 26, 26
STYLE = """
text { font-family: sans-serif; font-size: 14px; fill: #22302b; }
.name { font-weight: bold; } .what, .out { font-size: 12px; } .out { font-style: italic; fill: #5b6b64; }
rect { fill: #eef3ee; stroke: #7f958a; } .room { fill: #fbfcfb; } line { stroke: #7f958a; marker-end: url(#tip); }
"""


def drawn(text: str) -> bytes:
    """The picture, an SVG document."""
    svg = ET.Element("svg", {"xmlns": "http://www.w3.org/2000/svg", "width": str(WIDTH), "role": "img"})
    ET.SubElement(svg, "title").text = "The stages of Glimb"
    ET.SubElement(svg, "style").text = STYLE
    tip = {"id": "tip", "markerWidth": "8", "markerHeight": "8", "refX": "7", "refY": "4", "orient": "auto"}
    marker = ET.SubElement(ET.SubElement(svg, "defs"), "marker", tip)
    ET.SubElement(marker, "path", {"d": "M0,0 L8,4 L0,8 z", "fill": "#7f958a"})
    y, out = 12, ""
    for line in filter(None, map(str.strip, text.splitlines())):
        match = LINE.match(line)
        if match is None:
            raise ValueError(f"no stage: {line}")
        is_room = match["room"] is not None
        if not is_room and y > 12:
            _arrow(svg, y, out)
            y += GAP
        height = ROOM if is_room else STAGE
        _box(svg, y, height, is_room, match["name"].strip(), match["what"])
        y += height
        out = match["out"] or out
    svg.set("height", str(y + 12))
    ET.indent(svg)
    document: bytes = ET.tostring(svg, encoding="utf-8")
    return document + b"\n"


def _box(svg: ET.Element, y: int, height: int, is_room: bool, name: str, what: str) -> None:
    left, kind = (60, "room") if is_room else (20, "stage")
    place = {"x": str(left), "y": str(y), "width": str(WIDTH - left - 20), "height": str(height)}
    ET.SubElement(svg, "rect", {**place, "class": kind})
    middle = str(y + height // 2 + 5)
    ET.SubElement(svg, "text", {"x": str(left + 12), "y": middle, "class": "name"}).text = name
    ET.SubElement(svg, "text", {"x": "290", "y": middle, "class": "what"}).text = what


def _arrow(svg: ET.Element, y: int, out: str) -> None:
    ET.SubElement(svg, "line", {"x1": "40", "y1": str(y), "x2": "40", "y2": str(y + GAP)})
    ET.SubElement(svg, "text", {"x": "52", "y": str(y + GAP - 8), "class": "out"}).text = out


if __name__ == "__main__":
    (DOCS / "stages.svg").write_bytes(drawn((DOCS / "stages.txt").read_text()))
