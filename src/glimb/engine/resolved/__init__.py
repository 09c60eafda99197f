"""The resolved tree: every name bound, every expression typed.

In: nothing; the binder makes these nodes, the planner and the code generator read them. Out: expressions, relations
and queries (`queries`), statements (`statements`), questions to them (`relations`). `R.name` reaches all nodes.
"""

from glimb.engine.resolved.queries import *  # noqa: F403 - the nodes are the tree's vocabulary, listed once
from glimb.engine.resolved.statements import *  # noqa: F403
