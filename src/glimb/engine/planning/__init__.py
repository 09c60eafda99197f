"""FROM and WHERE become steps.

In: a bound relation and its condition. Out: `Plan`, steps that each look at one source by index, range, hash or scan;
the lines of EXPLAIN. It looks at no row.
"""
