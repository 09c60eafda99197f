"""What statements are called in the diagnostics area, COMMAND_FUNCTION, and their codes (ISO/IEC 9075-2 clause 23.1,
9075-4 clause 17.1)."""

from __future__ import annotations

from glimb.engine import resolved as R
from glimb.engine.values.command_codes import ITEMS
from glimb.lang import tree
from glimb.lang.node import holds, walk

_NAMES: dict[type, str] = {
    R.QueryStmt: "SELECT",
    R.SelectIntoStmt: "SELECT",
    R.InsertStmt: "INSERT",
    R.MergeStmt: "MERGE",
    R.TruncateStmt: "TRUNCATE TABLE",
    R.CallStmt: "CALL",
    R.NoteStmt: "CALL",
    R.SetStmt: "ASSIGNMENT",
    R.BlockStmt: "BEGIN END",
    R.IfStmt: "IF",
    R.CaseStmt: "CASE",
    R.LoopStmt: "LOOP",
    R.ForStmt: "FOR",
    R.LeaveStmt: "LEAVE",
    R.IterateStmt: "ITERATE",
    R.ReturnStmt: "RETURN",
    R.OpenStmt: "OPEN",
    R.FetchStmt: "FETCH",
    R.CloseStmt: "CLOSE CURSOR",
    R.PrepareStmt: "PREPARE",
    R.DeallocateStmt: "DEALLOCATE PREPARE",
    R.DescribeStmt: "DESCRIBE",
    R.AllocateCursorStmt: "ALLOCATE CURSOR",
}
_VERBS = {
    "start": "START TRANSACTION",
    "set": "SET TRANSACTION",
    "set local": "SET TRANSACTION",
    "commit": "COMMIT WORK",
    "rollback": "ROLLBACK WORK",
    "rollback to": "ROLLBACK WORK",
    "savepoint": "SAVEPOINT",
    "release": "RELEASE SAVEPOINT",
}
_SCHEMA: dict[type, str] = {
    tree.CreateTable: "CREATE TABLE",
    tree.CreateView: "CREATE VIEW",
    tree.CreateRoutine: "CREATE ROUTINE",
    tree.CreateTrigger: "CREATE TRIGGER",
    tree.CreateSequence: "CREATE SEQUENCE GENERATOR",
    tree.CreateSchema: "CREATE SCHEMA",
    tree.CreateModule: "CREATE MODULE",
    tree.CreateDomain: "CREATE DOMAIN",
    tree.CreateType: "CREATE TYPE",
    tree.AlterTable: "ALTER TABLE",
    tree.AlterDomain: "ALTER DOMAIN",
    tree.AlterRoutine: "ALTER ROUTINE",
    tree.AlterSequence: "ALTER SEQUENCE GENERATOR",
}
_DROPPED = {"function": "ROUTINE", "procedure": "ROUTINE", "sequence": "SEQUENCE GENERATOR"}


def command_of(node: R.Stmt) -> str:
    """The name of a statement; empty for those that leave the diagnostics area as it is."""
    match node:
        case R.UpdateStmt() | R.DeleteStmt():
            verb = "UPDATE" if isinstance(node, R.UpdateStmt) else "DELETE"
            return f"{verb} {'WHERE' if node.cursor is None else 'CURSOR'}"
        case R.InsteadStmt():
            return {"insert": "INSERT", "update": "UPDATE WHERE", "delete": "DELETE WHERE"}[node.event]
        case R.LoopStmt():
            return "REPEAT" if node.after is not None else "WHILE" if node.before is not None else "LOOP"
        case R.SignalStmt():
            return "RESIGNAL" if node.again else "SIGNAL"
        case R.ExecuteStmt():
            return "EXECUTE" if node.text is None else "EXECUTE IMMEDIATE"
        case R.TransactionStmt():
            return _VERBS[node.verb]
        case R.DescriptorStmt():
            return f"{'SET' if node.verb == 'count' else node.verb.upper()} DESCRIPTOR"
        case R.RunStmt():
            return node.command
        case R.SchemaStmt():
            return _schema_command(node.statement)
        case _:
            return _NAMES.get(type(node), "")


def _schema_command(node: tree.Statement) -> str:
    if isinstance(node, tree.Drop):
        return f"DROP {_DROPPED.get(node.kind, node.kind.upper())}"
    return _SCHEMA[type(node)]


def asks_for_commands(body: R.Stmt) -> bool:
    """Whether some GET DIAGNOSTICS in it asks for the name of the statement before."""
    if not holds(body, R.DiagnosticsStmt):
        return False
    asking = (n for n in walk(body) if isinstance(n, R.DiagnosticsStmt))
    return any(n.all is not None or any(item in ITEMS for _, item in n.items) for n in asking)
