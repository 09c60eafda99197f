"""The house: what the source keeps to, looked at in the source itself."""

from __future__ import annotations

import ast
import builtins
import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from tools import keys
from tools.stages import drawn

from glimb.engine.codegen.builder import RUNTIME
from glimb.engine.codegen.operations import CALLED, TEMPLATES, template_of
from glimb.engine.resolved.queries import Loose, Strict
from glimb.engine.values.signatures import BUILTINS

SOURCE = Path(__file__).parent.parent / "src"
FILES = sorted((SOURCE / "glimb").rglob("*.py"))
MOST_LINES, MOST_OF_A_CLASS, MOST_ATTRIBUTES = 600, 250, 30
REASON = "Long on purpose:"
"""With these words the head of a file says why it, or a class of it, is longer."""


def module_of(path: Path) -> str:
    return ".".join(path.relative_to(SOURCE).with_suffix("").parts).removesuffix(".__init__")


MODULES = {module_of(path): path for path in FILES}


def imported(path: Path) -> Iterator[str]:
    """The modules that a file imports, anywhere in it, for the type checker too."""
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.ImportFrom) and node.module:
            for alias in node.names:
                full = f"{node.module}.{alias.name}"
                yield full if full in MODULES else node.module


def test_no_circle_of_imports() -> None:
    edges = {name: {m for m in imported(path) if m in MODULES and m != name} for name, path in MODULES.items()}
    left = dict(edges)
    while left:
        free = [name for name, needs in left.items() if not needs & left.keys()]
        assert free, f"these import each other in a circle, or need those that do: {sorted(left)}"
        for name in free:
            del left[name]


def attributes(node: ast.ClassDef) -> set[str]:
    return {
        part.attr
        for part in ast.walk(node)
        if isinstance(part, ast.Attribute)
        and isinstance(part.ctx, ast.Store)
        and isinstance(part.value, ast.Name)
        and part.value.id == "self"
    }


@pytest.mark.parametrize("path", FILES, ids=module_of)
def test_size(path: Path) -> None:
    text = path.read_text()
    tree = ast.parse(text)
    assert ast.get_docstring(tree), "its first lines say what it is for"
    if REASON in (ast.get_docstring(tree) or ""):
        return
    assert text.count("\n") <= MOST_LINES
    for node in ast.walk(tree):
        if isinstance(node, ast.ClassDef):
            assert (node.end_lineno or 0) - node.lineno < MOST_OF_A_CLASS, node.name
            assert len(attributes(node)) <= MOST_ATTRIBUTES, node.name


def operations() -> Iterator[tuple[str, int]]:
    """Operations that the binder names, with the number of arguments where that is known."""
    for forms in BUILTINS.values():
        for form in forms:
            yield form.operation, len(form.families)
    for path in (SOURCE / "glimb/engine/binding").glob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and len(node.args) > 2:
                if node.func.attr in (Strict.__name__, Loose.__name__) and isinstance(node.args[2], ast.Constant):
                    yield str(node.args[2].value), 1
    yield from ((operation, 3) for operation in (*TEMPLATES, *CALLED))


@pytest.mark.parametrize(("operation", "count"), sorted(set(operations())))
def test_every_operation_has_its_python(operation: str, count: int) -> None:
    text = re.sub(r"\{(\d|[abc])\}", r"x", template_of(operation, count))
    named = {node.id for node in ast.walk(ast.parse(text, mode="eval")) if isinstance(node, ast.Name)}
    assert not {n for n in named if n not in RUNTIME and n not in ("s", "x") and not hasattr(builtins, n)}


def test_the_picture_of_the_stages_is_the_text() -> None:
    docs = SOURCE.parent / "docs"
    assert drawn((docs / "stages.txt").read_text()) == (docs / "stages.svg").read_bytes()


def test_the_page_of_keys() -> None:
    assert keys.PAGE.read_text() == keys.page(), "python -m tools.keys writes it anew"
