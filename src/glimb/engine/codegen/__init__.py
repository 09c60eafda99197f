"""Resolved tree to Python: one function for a query or change, one for a routine, as text that a person can read.

The text holds only names and constants that the compiler made; whatever a script says (texts, names, large numbers)
is passed in as an object.
"""
