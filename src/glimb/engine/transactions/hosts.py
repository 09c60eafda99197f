"""Host variables: values outside all sessions, which statements are given and give. No rollback takes them back."""

from __future__ import annotations

from collections.abc import Iterable
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


class GivenHosts:
    """What the statement of one session has given host variables, which all sessions share."""

    __slots__ = ("hosts", "values")

    def __init__(self, hosts: Hosts) -> None:
        self.hosts = hosts
        self.values: list[tuple[str, Type, Any]] = []

    def give(self, values: Iterable[tuple[str, Type, Any]]) -> None:
        """Give host variables their values; no rollback takes these back."""
        for name, type_, value in values:
            if value is not UNGIVEN:
                self.values.append((name, type_, value))
                self.hosts[name] = HostValue(type_, value)
