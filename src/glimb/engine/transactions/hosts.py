"""Host variables: values outside all sessions, which statements are given and give. No rollback takes them back."""

from __future__ import annotations

from typing import Any, NamedTuple

from glimb.engine.values.types import Type

UNGIVEN = object()
"""Stands for the value that a statement has not given a host variable: SELECT INTO that found no row."""


class HostValue(NamedTuple):
    """The value of a host variable, with the type of what it was given."""

    type: Type
    value: Any


Hosts = dict[str, HostValue]
"""By name, without the colon."""
