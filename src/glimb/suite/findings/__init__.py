"""What is dubious in what is stored and in cases, though it can be run: one module a subject, one function a finding.

In: a `Subject`, a routine or trigger as it was written and as it was bound. Out: `Finding`s with a place. To add one:
write a function with `@finding(code, remedy)` in the module of its subject; `docs/findings.md` and a case of each
kind in `tests/suite/findings` are asked for by a test.
"""
