"""Expectations: what the `-->` lines of a script say about the statement above them.

In: lines of text, and the outcomes of statements. Out: `Expectation` (read by `reading`), `Verdict` (told by
`judging`), lines that an outcome would meet (`pinning`). Each kind has one entry, in the file of its subject (`kinds`).
"""
