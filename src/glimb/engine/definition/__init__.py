"""Schema statements at work.

In: a parsed CREATE, ALTER or DROP and a session. Out: objects of the catalog, made, changed or dropped through the
session's log, so that they are rolled back as rows are.
"""
