"""Glimb: run SQL routines in an embedded interpreter and judge what each statement did."""

__version__ = "0.1.0"
