"""Where control goes: whether a statement can come to its end, so that the one behind it is reached."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.lang.node import walk


def comes_to_end(node: R.Stmt) -> bool:
    """Whether what stands behind the statement may be reached; True where that depends on values.

    Of a function body it is asked whether it can end without RETURN (2F005, 9075-2 clause 9.23)."""
    match node:
        case R.ReturnStmt() | R.LeaveStmt() | R.IterateStmt():
            return False
        case R.SignalStmt():
            # A warning, or no data, that no handler takes is one of completion; RESIGNAL alone may raise any.
            return node.sqlstate[:2] in ("01", "02") or (node.again and not node.sqlstate)
        case R.BlockStmt():
            # A CONTINUE handler goes on behind any statement that raised, a RETURN or SIGNAL among them.
            handlers = [handler.action for handler in node.handlers]
            goes_on = any(handler.kind == "continue" for handler in node.handlers)
            return goes_on or _is_left(node, node.label) or _all_run(node.body) or any(map(comes_to_end, handlers))
        case R.IfStmt():
            return _all_run(node.otherwise) or any(_all_run(body) for _, body in node.arms)
        case R.CaseStmt():
            # Without an ELSE nothing runs on: what no WHEN takes raises 20000.
            arms = [body for _, body in node.arms]
            return any(map(_all_run, arms if node.otherwise is None else [*arms, node.otherwise]))
        case R.LoopStmt():
            return node.before is not None or node.after is not None or _is_left(node, node.local)
        case _:
            return True


def _all_run(body: tuple[R.Stmt, ...]) -> bool:
    return all(map(comes_to_end, body))


def _is_left(node: R.Stmt, local: str) -> bool:
    return any(isinstance(inner, R.LeaveStmt) and inner.local == local for inner in walk(node))
