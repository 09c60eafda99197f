"""Sessions: transactions, locks, waits, isolation, budgets.

In: tables and the catalog, through what the sessions of an engine share (`shared`). Out: `Session`, the first
argument of all generated code. A session knows no engine and no statement.
"""
