"""CREATE and ALTER SEQUENCE (ISO/IEC 9075-2 clause 11.72 and 11.73)."""

from __future__ import annotations

from glimb.engine.definition.context import Definition
from glimb.engine.storage.table import Sequence
from glimb.engine.values.types import BIGINT, Type
from glimb.lang import tree
from glimb.lang.node import replace
from glimb.lang.problem import nearest

# -- sequences


def create_sequence(d: Definition, node: tree.CreateSequence) -> None:
    """CREATE SEQUENCE."""
    name = d.new_key("sequences", node.name, node)
    if name in d.catalog.sequences:
        d.binder.fail("42710", f"sequence {name} exists already", node)
    d.change("sequences", name, sequence_of(d, name, node.options, BIGINT))


def sequence_of(d: Definition, name: str, options: tree.SequenceOptions, default: Type) -> Sequence:
    """A sequence with the standard's defaults for what is not said."""
    type_ = d.binder.type(options.type) if options.type is not None else default
    if type_.family != "exact" or (type_.kind == "decimal" and type_.scale):
        d.binder.fail("42804", f"a sequence has whole numbers, not {type_}", options)
    increment = 1 if options.increment is None else options.increment
    if increment == 0:
        d.binder.fail("42601", "a sequence cannot go on by 0", options)
    limit = type_.limit - 1
    low = options.minimum if options.minimum is not None else 1 if increment > 0 else -limit
    high = options.maximum if options.maximum is not None else limit if increment > 0 else -1
    start = options.start if options.start is not None else low if increment > 0 else high
    if not -limit - 1 <= low <= start <= high <= limit:
        d.binder.fail("42601", f"a sequence of {type_} cannot start at {start} between {low} and {high}", options)
    return Sequence(name, type_, start, increment, (low, high), options.cycle)


def restart(d: Definition, node: tree.AlterSequence) -> None:
    """ALTER SEQUENCE: other options, and where it goes on."""
    key = d.binder.key("sequences", node.name, node)
    sequence = d.catalog.sequences.get(key)
    if sequence is None:
        d.binder.fail("42704", f"there is no sequence {key}", node, nearest(key, d.catalog.sequences))
    options, (low, high) = node.options, sequence.bounds
    given = (
        sequence.start if options.start is None else options.start,
        sequence.increment if options.increment is None else options.increment,
        low if options.minimum is None else options.minimum,
        high if options.maximum is None else options.maximum,
    )
    made = sequence_of(d, key, replace(options, **dict(zip(_SEQUENCE_FIELDS, given, strict=True))), sequence.type)
    made.next = (made.start if node.start is None else node.start) if node.restart else sequence.next
    if not made.bounds[0] <= made.next <= made.bounds[1]:
        d.binder.fail("42601", f"{made.next} is outside the sequence", node)
    d.change("sequences", key, made)


_SEQUENCE_FIELDS = ("start", "increment", "minimum", "maximum")
