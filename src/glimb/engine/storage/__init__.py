"""Rows: tables with their indexes and constraints, and the log of changes.

In: types and values. Out: `Table`, whose rows are tuples that end in their row id; `Entry`, one change; a table as
somebody may see it (`overlay`). Nothing here knows who changes what, or why.
"""
