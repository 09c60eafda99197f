"""Drawings of what the screens show, as SVG and PDF: one module a kind, each makes a `paper.Drawing`.

In: ladders, weaves, grids, counts as the suite has them. Out: the bytes of a file. `paper` has lines, words and pages,
`look` the colours, `graphs` the layout of graphs, `files` writes; nothing is run or reckoned here.
"""
