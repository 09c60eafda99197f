"""SET statements and transaction verbs at run time (ISO/IEC 9075-2 clauses 17 and 19)."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from glimb.engine import resolved as R
from glimb.engine.binding.context import Binding
from glimb.engine.binding.dispatch import expression
from glimb.engine.catalog.objects import DEFAULT_SCHEMA
from glimb.engine.runtime.verbs import verb
from glimb.engine.storage.table import Table
from glimb.engine.transactions.session import Session
from glimb.engine.values.conditions import fail
from glimb.lang import tree
from glimb.lang.problem import nearest

# ---- settings -------------------------------------------------------------------------------------------------------


def _schema_name(b: Binding, node: tree.SetSchema) -> tuple[R.Expr]:
    name = expression(b, node.name)
    if name.type.family != "text":
        b.fail("42804", f"the name of a schema is a text, this is {name.type}", node)
    return (name,)


@verb(tree.SetSchema, "set schema", "SET SCHEMA", _schema_name, step="set")
def set_schema(session: Session, name: str | None) -> None:
    """SET SCHEMA (clause 19.5); 3F000 for one that is not there."""
    known = session.shared.catalog.schemas
    name = "" if name is None else name.strip()
    if name != DEFAULT_SCHEMA and name not in known:
        fail("3F000", f"there is no schema {name}")
    session.schema = "" if name == DEFAULT_SCHEMA else name


@verb(tree.SetSession, "set session", "SET SESSION CHARACTERISTICS", lambda b, n: (n.setting, n.value), step="set")
def set_session(session: Session, setting: str, value: Any) -> None:
    """SET SESSION CHARACTERISTICS (clause 19.1), and autocommit, which hosts have; 25001 within a transaction."""
    if session.active:
        what = "autocommit" if setting == "autocommit" else "what transactions are like"
        fail("25001", f"{what} is set before the transaction")
    if setting == "autocommit":
        session.autocommit = value == "on"
    else:
        session.usual = session.usual.with_modes(value)


def _constraints(b: Binding, node: tree.SetConstraints) -> tuple[tuple[str, ...], bool]:
    """Constraints that are there and can be deferred."""
    known: dict[str, bool] = {}
    for table in b.catalog.tables():
        for constraint, found in table.constraints():
            known[constraint] = known.get(constraint, False) or found.deferrable
    for parts in node.names:
        if parts[-1] not in known:
            b.fail("42704", f"there is no constraint {parts[-1]}", node, nearest(parts[-1], known))
        if not known[parts[-1]]:
            b.fail("42809", f"constraint {parts[-1]} is not DEFERRABLE", node)
    return tuple(n[-1] for n in node.names), node.deferred


@verb(tree.SetConstraints, "set constraints", "SET CONSTRAINT", _constraints, step="set")
def set_constraints(session: Session, names: tuple[str, ...], deferred: bool) -> None:
    """SET CONSTRAINTS (clause 17.4): what becomes immediate is checked at once."""
    session.begin()
    session.deferred.set(names, deferred)


def _tables(b: Binding, node: tree.LockTable) -> tuple[tuple[Table, ...], str, float | None]:
    return tuple(b.base_table(t, node) for t in node.tables), node.mode, node.wait


@verb(tree.LockTable, "lock table", "LOCK TABLE", _tables)
def lock_tables(session: Session, tables: tuple[Table, ...], mode: str, wait: float | None) -> None:
    """LOCK TABLE: in the order in which the tables are named."""
    for table in tables:
        session.claims.lock_table(session.private(table) if table.temporary else table, mode, wait)


def start_transaction(session: Session, modes: tuple[str, ...]) -> None:
    """START TRANSACTION (clause 17.1); 25001 within one."""
    if session.active:
        fail("25001", "a transaction is active already")
    session.coming = (session.coming or session.usual).with_modes(modes)
    session.begin()
    session.explicit = True


def set_transaction(session: Session, modes: tuple[str, ...]) -> None:
    """SET TRANSACTION (clause 17.2): of the next one; 25001 within one."""
    if session.active:
        fail("25001", "SET TRANSACTION comes before the transaction")
    session.coming = (session.coming or session.usual).with_modes(modes)


def commit(session: Session, chain: bool) -> None:
    """COMMIT (clause 17.7)."""
    session.savepoints.forbid_end()
    _end(session, session.commit, chain)


def rollback(session: Session, chain: bool) -> None:
    """ROLLBACK (clause 17.8)."""
    session.savepoints.forbid_end()
    _end(session, session.rollback, chain)


def _end(session: Session, end: Callable[[], None], chain: bool) -> None:
    """AND CHAIN: a new transaction of the same characteristics."""
    kept = session.current
    end()
    if chain:
        session.coming = kept
        session.begin()
