"""All objects by name: tables, views, domains, schemas, routines, triggers, sequences.

In: parsed definitions. Out: `Catalog`, whose changes are undone as those of rows are; who uses what (`dependents`);
the information schema as views whose rows are made when asked for.
"""
