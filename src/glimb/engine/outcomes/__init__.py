"""What a statement has done, as data.

In: what running it leaves. Out: `Outcome` with rows, changes, locks, waits, notes, failure; the events of a recorded
run and their reading as steps. Judging, ladders, reports and screens read these objects and nothing else.
"""
