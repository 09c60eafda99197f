"""Records, and the nodes of trees: typed slots, equality without places, generic walking and rewriting.

Records are values. They are frozen for the type checker (`dataclass_transform`); at run time a light metaclass
builds each class, because two hundred frozen dataclasses or named tuples would cost more time than the rest of the
start-up.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any, ClassVar, Literal, TypeVar, dataclass_transform

from glimb.lang.source import NOWHERE, Span

_REQUIRED = object()


class _Aside:
    """The default of a field that comes last, by keyword only, and is no part of the value."""

    def __init__(self, default: Any) -> None:
        self.default = default


def keyword_only(*, default: Any, kw_only: Literal[True]) -> Any:
    """A field that is given by keyword only, and is outside equality."""
    return _Aside(default)


Foreign = Any
"""A tree of another kind, which is no part of the one in which it is kept."""
_PLAIN = frozenset(
    ("str", "int", "bool", "float", "Parts", "tuple[str, ...]", "str | None", "int | None", "Type", "Foreign")
)
"""Annotations of fields in which there are no nodes."""


@dataclass_transform(frozen_default=True, eq_default=True, field_specifiers=(keyword_only,))
class RecordMeta(type):
    """Makes slots and `__init__` from the annotations of a class; `_fields` are the names of what makes the value."""

    def __new__(mcs, name: str, bases: tuple[type, ...], space: dict[str, Any]) -> RecordMeta:
        annotations: dict[str, str] = space.get("__annotations__", {}) if bases else {}
        own = tuple(annotations)
        inner = [*(bases[0]._inner[::-1] if bases else ())]  # type: ignore[attr-defined]
        fields = dict(bases[0]._values) if bases else {}  # type: ignore[attr-defined]
        asides = bases[0]._asides if bases else {}  # type: ignore[attr-defined]
        for field in own:
            default = space.pop(field, _REQUIRED)
            if isinstance(default, _Aside):
                asides = {**asides, field: default.default}
            else:
                fields[field] = default
                if annotations[field] not in _PLAIN:
                    inner.append(field)
        space["__slots__"] = (*own, *space.pop("_kept", ()))
        space["__match_args__"] = space["_fields"] = tuple(fields)
        space["_values"], space["_asides"] = fields, asides
        space["_inner"] = tuple(inner[::-1])
        defaults = {**fields, **asides}
        space["_order"] = tuple(sorted(defaults, key=lambda n: defaults[n] is not _REQUIRED))
        if "__init__" not in space:
            space["__init__"] = _first_init
        return super().__new__(mcs, name, bases, space)


def _first_init(self: Any, *arguments: Any, **named: Any) -> None:
    """The `__init__` of a class that has no instance yet: it makes the real one, which most classes of a short run
    never need."""
    cls = type(self)
    cls.__init__ = _make_init(cls._order, {**cls._values, **cls._asides})
    cls.__init__(self, *arguments, **named)


def _make_init(ordered: tuple[str, ...], defaults: dict[str, Any]) -> Any:
    """An `__init__` that sets the slots: the names are those of the class body, the defaults are passed as objects."""
    params = ", ".join(n if defaults[n] is _REQUIRED else f"{n}=_d_{n}" for n in ordered)
    body = "\n".join(f"    self.{n} = {n}" for n in defaults)
    space = {f"_d_{n}": d for n, d in defaults.items()}
    exec(f"def __init__(self, {params}):\n{body}\n", space)
    return space["__init__"]


class Record(metaclass=RecordMeta):
    """A value with typed, named parts."""

    _fields: ClassVar[tuple[str, ...]]
    _values: ClassVar[dict[str, Any]]
    _asides: ClassVar[dict[str, Any]]
    _inner: ClassVar[tuple[str, ...]]
    """Fields that may hold records, the last one first."""
    _order: ClassVar[tuple[str, ...]]
    """Fields in the order of `__init__`: those without a default come first."""

    def __eq__(self, other: object) -> bool:
        if self is other:
            return True
        return type(self) is type(other) and all(getattr(self, n) == getattr(other, n) for n in self._fields)

    def __hash__(self) -> int:
        return hash((type(self).__name__, *(getattr(self, n) for n in self._fields)))

    def __reduce__(self) -> tuple[type, tuple[Any, ...]]:
        """For pickle: what `__init__` takes, in its order."""
        return type(self), tuple([getattr(self, n) for n in self._order])

    def __repr__(self) -> str:
        return f"{type(self).__name__}({', '.join(f'{n}={getattr(self, n)!r}' for n in self._fields)})"


class Node(Record):
    """A record with a place, of which trees are made."""

    _kept = ("_kinds",)
    span: Span = keyword_only(default=NOWHERE, kw_only=True)


R = TypeVar("R", bound=Record)
N = TypeVar("N", bound=Node)


def replace(node: R, **changes: Any) -> R:
    """A copy of `node` with some fields changed."""
    values = {n: getattr(node, n) for n in (*node._fields, *node._asides)}
    values.update(changes)
    return type(node)(**values)


def placed(node: N, span: Span) -> N:
    """`node`, just made and known to nobody else, with its place; for all others there is `replace`."""
    node.span = span  # type: ignore[misc]
    return node


def walk(thing: Any, without: tuple[type[Node], ...] = ()) -> Iterator[Node]:
    """Every node in `thing` (a node or a tuple of them), parents first, those of some classes left out with all that is
    in them. Named tuples hold no nodes."""
    stack = [thing]
    while stack:
        item = stack.pop()
        if item.__class__ is tuple:
            stack.extend(item[::-1])
        elif isinstance(item, Node) and not isinstance(item, without):
            yield item
            for name in item._inner:
                value = getattr(item, name)
                if value.__class__ is tuple or isinstance(value, Node):
                    stack.append(value)


def holds(thing: Any, *kinds: type[Node]) -> bool:
    """Whether a node of one of these very classes is in `thing` (a node or a tuple of them). A node remembers what is
    in it: questions to the same one cost a walk once."""
    if not isinstance(thing, Node):
        return any(type(node) in kinds for node in walk(thing))
    try:
        known = thing._kinds  # type: ignore[attr-defined]
    except AttributeError:
        known = thing._kinds = frozenset(map(type, walk(thing)))  # type: ignore[attr-defined]
    return not known.isdisjoint(kinds)


_INNER = (Node, tuple)


def rewrite(thing: Any, change: Callable[[Node], Node | None]) -> Any:
    """`thing` with every node for which `change` gives another one replaced by it, from the top down."""
    if isinstance(thing, Node):
        other = change(thing)
        if other is not None:
            return other
        changes = {}
        for name in thing._fields:
            value = getattr(thing, name)
            if isinstance(value, _INNER):
                new = rewrite(value, change)
                if new is not value:
                    changes[name] = new
        return replace(thing, **changes) if changes else thing
    if isinstance(thing, tuple):
        items = [rewrite(item, change) for item in thing]
        if any(new is not old for new, old in zip(items, thing, strict=True)):
            return tuple(items)
    return thing
