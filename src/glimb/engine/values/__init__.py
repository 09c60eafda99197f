"""Types, values, conditions and the code of built-in functions.

In: nothing but the language's sources and problems. Out: `Type`, conversions between types, `Condition` with its
states, functions over Python values (NULL is None) that generated code calls. It knows of no table, no name and no
session.
"""
