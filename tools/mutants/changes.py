"""Small changes to our own source: what could stand in the place of a condition, an operator, a constant, a statement."""

from __future__ import annotations

import ast
from collections import Counter
from collections.abc import Iterator
from hashlib import sha256
from itertools import chain
from pathlib import Path
from typing import Any, NamedTuple

ROOT = Path(__file__).parent.parent.parent
SOURCE = ROOT / "src" / "glimb"


class Mutant(NamedTuple):
    """A change: a file, the lines it touches, what stood there and what stands there now, and the whole new text."""

    path: Path
    first: int
    last: int
    before: str
    after: str
    text: str

    @property
    def place(self) -> str:
        return f"{self.path.relative_to(ROOT)}:{self.first}"

    @property
    def name(self) -> tuple[str, str, str, str]:
        """What it is called wherever its line has gone: file, the changed line, what stood in it and what stands there."""
        line = self.text.splitlines()[self.first - 1]
        return str(self.path.relative_to(ROOT)), line.strip(), self.before, self.after


COMPARISONS: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In,
}  # fmt: skip
OPERATORS: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Add, ast.FloorDiv: ast.Mult, ast.Div: ast.Mult, ast.Mod: ast.Add,
    ast.BitOr: ast.BitAnd, ast.BitAnd: ast.BitOr,
}  # fmt: skip


def changed(node: ast.AST) -> Iterator[ast.AST]:
    """What could stand in the place of a node, each a small step away."""
    match node:
        case ast.Compare(ops=[one]):
            yield ast.Compare(node.left, [COMPARISONS[type(one)]()], node.comparators)
        case ast.BoolOp():
            yield ast.BoolOp(ast.Or() if isinstance(node.op, ast.And) else ast.And(), node.values)
        case ast.BinOp() if type(node.op) in OPERATORS and not _is_text(node):
            yield ast.BinOp(node.left, OPERATORS[type(node.op)](), node.right)
        case ast.UnaryOp(op=ast.Not()):
            yield node.operand
        case ast.Constant(value=bool() as value):
            yield ast.Constant(not value)
        case ast.Constant(value=int() as value):
            yield ast.Constant(value + 1)
        case ast.If() | ast.While() | ast.IfExp():
            yield ast.UnaryOp(ast.Not(), node.test)
        case ast.Return(value=ast.expr() as value) if not isinstance(value, ast.Constant):
            yield ast.Return(ast.Constant(None))
        case ast.Expr(value=ast.Call()) | ast.AugAssign() | ast.Raise():
            yield ast.Pass()
        case ast.Break():
            yield ast.Continue()
        case ast.Continue():
            yield ast.Break()


def _is_text(node: ast.BinOp) -> bool:
    return any(
        isinstance(side, ast.JoinedStr | ast.Constant) and not isinstance(getattr(side, "value", 0), int)
        for side in (node.left, node.right)
    )


def mutants_of(path: Path) -> list[Mutant]:
    """All changes of a file. Annotations, docstrings, what is for the type checker, and `strict=` of zip, which only asserts
    what is so, stay as they are."""
    text = path.read_text()
    lines = text.splitlines(keepends=True)
    starts = [0]
    for line in lines:
        starts.append(starts[-1] + len(line))
    found = []
    for node in _alive(ast.parse(text)):
        spot: Any = node.test if isinstance(node, ast.If | ast.While | ast.IfExp) else node
        for new in changed(node):
            first = starts[spot.lineno - 1] + len(lines[spot.lineno - 1].encode()[: spot.col_offset].decode())
            last = starts[spot.end_lineno - 1] + len(
                lines[spot.end_lineno - 1].encode()[: spot.end_col_offset].decode()
            )
            written = ast.unparse(ast.fix_missing_locations(new))
            ended = "\n" * (spot.end_lineno - spot.lineno - written.count("\n"))  # what follows keeps its line
            written = f"({written}{ended})" if isinstance(new, ast.expr) else written + ended
            found.append(
                Mutant(
                    path, spot.lineno, spot.end_lineno, text[first:last], written, text[:first] + written + text[last:]
                )
            )
    return found


def _alive(node: ast.AST) -> Iterator[ast.AST]:
    for name, value in ast.iter_fields(node):
        if name in ("annotation", "returns", "decorator_list", "keywords" if isinstance(node, ast.ClassDef) else ""):
            continue
        for inner in value if isinstance(value, list) else [value]:
            if not isinstance(inner, ast.AST) or (
                isinstance(inner, ast.If) and "TYPE_CHECKING" in ast.unparse(inner.test)
            ):
                continue
            if isinstance(inner, ast.keyword) and inner.arg == "strict":
                continue
            if isinstance(inner, ast.JoinedStr):
                yield from chain.from_iterable(
                    _alive(part.value) for part in inner.values if isinstance(part, ast.FormattedValue)
                )
                continue
            yield inner
            yield from _alive(inner)


def chosen(count: int, seed: int, parts: list[str]) -> list[Mutant]:
    """So many changes over all files of these parts. Each stands where its digest puts it: those of a seed stay the same
    when the source is changed elsewhere, and fewer of them are the first of more."""
    paths = sorted(path for part in parts or [""] for path in (SOURCE / part).rglob("*.py"))
    seen, placed = Counter[tuple[str, ...]](), list[tuple[bytes, Mutant]]()
    for mutant in (mutant for path in paths for mutant in mutants_of(path)):
        seen[mutant.name] += 1  # the same change can be made to two lines that are the same
        placed.append((sha256(f"{seed} {mutant.name} {seen[mutant.name]}".encode()).digest(), mutant))
    return [mutant for _, mutant in sorted(placed, key=lambda one: one[0])[:count]]
