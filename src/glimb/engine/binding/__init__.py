"""Parsed tree to resolved tree: names, types and the rules that can be checked before anything runs."""

from glimb.engine.binding.entry import Facts, TriggerFacts, bind_alone, bind_routine, bind_trigger

__all__ = ["Facts", "TriggerFacts", "bind_alone", "bind_routine", "bind_trigger"]
