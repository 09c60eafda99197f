"""From parsed statements, routines and definitions of tables to Python functions, each when it is first needed.

In: parsed texts and the catalog. Out: functions of session, depth and values: statements (`statements`), routines in
two forms (`routines`), checks, defaults and triggers of tables (`tables`); `compiler` remembers them.
"""
