"""What generated code calls: changes with their constraints, cursors, handlers, diagnostics, dynamic SQL.

In: a session and values. Out: rows, counts, conditions. `names` lists all that generated code may name.
"""
