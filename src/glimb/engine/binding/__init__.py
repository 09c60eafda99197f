"""Parsed tree to resolved tree: names, types and the rules that can be checked before anything runs."""

from glimb.engine.binding.routines import Facts, bind_routine, bind_statement, bind_trigger

__all__ = ["Facts", "bind_routine", "bind_statement", "bind_trigger"]
