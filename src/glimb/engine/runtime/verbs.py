"""Statements that only call a function at run time: each has one entry, where its function stands.

`verb` says for which node of the tree a function is there and how the node is bound: what the function is given behind
the session, bound expressions or objects.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from glimb.engine import resolved as R
from glimb.engine.binding.areas import STATEMENTS
from glimb.engine.binding.context import Binding

F = TypeVar("F", bound=Callable[..., None])
N = TypeVar("N")
FUNCTIONS: dict[str, Callable[..., None]] = {}
"""By name, for generated code."""


def verb(
    node_type: type[N], kind: str, command: str, bind: Callable[[Binding, N], tuple[Any, ...]], step: str = ""
) -> Callable[[F], F]:
    """This function is what a statement calls; `kind` is what the statement is called in outcomes, `step` inside a
    routine, `command` by the standard (in GET DIAGNOSTICS)."""

    def register(function: F) -> F:
        def bind_verb(b: Binding, node: Any) -> R.Stmt:
            return R.RunStmt(kind, step or kind, command, function.__name__, bind(b, node), span=node.span)

        STATEMENTS[node_type] = bind_verb
        FUNCTIONS[function.__name__] = function
        return function

    return register
