"""Window functions at run time (ISO/IEC 9075-2 clauses 6.10, 7.15): partitions, peers, frames and what is computed over
them. Rows are tuples; a specification says at which positions arguments and keys stand."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections import defaultdict
from collections.abc import Callable, Iterable
from datetime import time
from functools import partial, reduce
from itertools import accumulate
from operator import itemgetter
from typing import Any

from glimb.engine.values.conditions import fail
from glimb.engine.values.conversion import (
    check_decimal,
    check_float,
    check_integer,
    interval_unit,
    micros_of,
    moved,
    moved_months,
)
from glimb.engine.values.library import average, average_of, regression, spread
from glimb.engine.values.signatures import BINARY_AGGREGATES, PICKS, RANKS, STATISTICS
from glimb.engine.values.types import Type
from glimb.lang.node import Record

Row = tuple[Any, ...]
_NOTHING = object()


class WindowSpecification(Record):
    """A window function with its window; positions are those in the rows, -1 is none."""

    function: str
    arguments: tuple[int, ...]
    where: int
    partition: tuple[int, ...]
    order: tuple[tuple[int, bool, bool], ...]
    unit: str
    start: tuple[str, int]
    end: tuple[str, int]
    type: Type
    argument_type: Type
    exclude: str = ""
    ignore_nulls: bool = False
    from_last: bool = False
    in_months: bool = False
    """Whether offsets from a date are months, not microseconds."""


Watcher = Callable[[], None]
"""Called every now and then in what may take long; raises when it has taken too long."""
Frame = tuple[int, int]
"""The first position of a frame, and the one behind its last."""
Parts = tuple[Frame, ...]
"""A frame from which EXCLUDE has taken rows: at most three stretches."""


def window_values(rows: list[Row], spec: WindowSpecification, watch: Watcher = lambda: None) -> list[Any]:
    """The value of the window function for every row, in the order of the rows."""
    partitions: dict[Any, list[int]] = {}
    if spec.partition:
        partitions = defaultdict(list)
        for number, key in enumerate(map(itemgetter(*spec.partition), rows)):
            partitions[key].append(number)
    elif rows:
        partitions[()] = list(range(len(rows)))
    sorts = [_sort_keys(rows, *key) for key in reversed(spec.order)]
    values: list[Any] = [None] * len(rows)
    for numbers in partitions.values():
        for keys, descending in sorts:
            numbers.sort(key=keys.__getitem__, reverse=descending)
        members = [rows[number] for number in numbers]
        watch()
        for number, value in zip(numbers, _over_partition(members, spec, watch), strict=True):
            values[number] = value
    return values


def _sort_keys(rows: list[Row], position: int, descending: bool, nulls_first: bool) -> tuple[list[Any], bool]:
    """What each row is sorted by, and whether backwards."""
    keys = [row[position] for row in rows]
    if None in keys:
        nulls_low = nulls_first != descending
        keys = [((key is None) != nulls_low, 0 if key is None else key) for key in keys]
    return keys, descending


def _over_partition(members: list[Row], spec: WindowSpecification, watch: Watcher) -> list[Any]:
    starts = _peer_starts(members, spec)
    if spec.function in RANKS:
        return _ranks(members, spec, starts)
    if spec.function == "ntile":
        return _ntile(members, spec)
    if spec.function in ("lag", "lead"):
        return _neighbours(members, spec)
    parts = _parts(_frames(members, spec, starts), starts, spec)
    if spec.function in PICKS:
        return _picks(members, spec, parts)
    return _aggregates(members, spec, parts, watch)


def _parts(frames: list[Frame], starts: list[int], spec: WindowSpecification) -> list[Parts]:
    """For every row the stretches of its frame that EXCLUDE leaves."""
    if not spec.exclude:
        return [(frame,) if frame[0] < frame[1] else () for frame in frames]
    ends = _peer_ends(starts)
    parts = []
    for number, (first, last) in enumerate(frames):
        low, high = (number, number + 1) if spec.exclude == "current row" else (starts[number], ends[number])
        kept = [(first, min(last, low)), (max(first, high), last)]
        if spec.exclude == "ties":
            kept.insert(1, (max(first, number), min(last, number + 1)))
        parts.append(tuple((a, b) for a, b in kept if a < b))
    return parts


def _picks(members: list[Row], spec: WindowSpecification, parts: list[Parts]) -> list[Any]:
    """FIRST_VALUE, LAST_VALUE, NTH_VALUE: a row of the frame, counted from its start or its end; NULL when there is no
    such row. With IGNORE NULLS only rows with a value count."""
    taken = [row[spec.arguments[0]] for row in members]
    counted = [n for n, value in enumerate(taken) if value is not None] if spec.ignore_nulls else None
    backwards = spec.function == "last_value" or spec.from_last
    values = []
    for row, stretches in zip(members, parts, strict=True):
        at = row[spec.arguments[1]] if spec.function == "nth_value" else 1
        if at is not None and at < 1:
            fail("22016", f"NTH_VALUE takes a number above 0, not {at}")
        if counted is not None:
            stretches = tuple((bisect_left(counted, a), bisect_left(counted, b)) for a, b in stretches)
        place = _place(stretches, at, backwards) if at is not None else -1
        place = counted[place] if counted is not None and place >= 0 else place
        values.append(taken[place] if place >= 0 else None)
    return values


def _place(stretches: Parts, nth: int, backwards: bool) -> int:
    """The nth position of some stretches, from the end perhaps; -1 when there are not so many."""
    for first, last in reversed(stretches) if backwards else stretches:
        if nth <= last - first:
            return last - nth if backwards else first + nth - 1
        nth -= last - first
    return -1


def _peer_starts(members: list[Row], spec: WindowSpecification) -> list[int]:
    """For every row, where its peers (equal in all sort keys) begin."""
    if not spec.order:
        return [0] * len(members)
    starts: list[int] = []
    start, last = 0, _NOTHING
    for number, key in enumerate(map(itemgetter(*(p for p, _, _ in spec.order)), members)):
        if key != last:
            start, last = number, key
        starts.append(start)
    return starts


def _peer_ends(starts: list[int]) -> list[int]:
    """For every row, the position behind its last peer."""
    ends = [0] * len(starts)
    end = len(starts)
    for number in range(len(starts) - 1, -1, -1):
        ends[number] = end
        if starts[number] == number:
            end = number
    return ends


# ---- ranks and neighbours -------------------------------------------------------------------------------------------


def _ranks(members: list[Row], spec: WindowSpecification, starts: list[int]) -> list[Any]:
    count = len(members)
    if spec.function == "row_number":
        return list(range(1, count + 1))
    if spec.function == "rank":
        return [start + 1 for start in starts]
    if spec.function == "percent_rank":
        return [start / (count - 1) if count > 1 else 0.0 for start in starts]
    if spec.function == "cume_dist":
        return [end / count for end in _peer_ends(starts)]
    dense, ranks = 0, []
    for number, start in enumerate(starts):
        dense += start == number
        ranks.append(dense)
    return ranks


def _ntile(members: list[Row], spec: WindowSpecification) -> list[Any]:
    """Buckets as even as they can be; the first ones take what is left over."""
    buckets = members[0][spec.arguments[0]]
    if buckets is None:
        return [None] * len(members)
    if buckets < 1:
        fail("22014", f"NTILE needs a number above 0, not {buckets}")
    size, rest = divmod(len(members), buckets)
    values: list[int] = []
    for bucket in range(1, min(buckets, len(members)) + 1):
        values += [bucket] * (size + (bucket <= rest))
    return values


def _neighbours(members: list[Row], spec: WindowSpecification) -> list[Any]:
    """LAG and LEAD: the value so many rows before or behind, or the default."""
    sign = -1 if spec.function == "lag" else 1
    values: list[Any] = []
    taken = [row[spec.arguments[0]] for row in members]
    counted = [n for n, value in enumerate(taken) if value is not None] if spec.ignore_nulls else []
    for number, row in enumerate(members):
        offset = row[spec.arguments[1]] if len(spec.arguments) > 1 else 1
        if offset is None:
            values.append(None)
            continue
        if offset < 0:
            fail("22016", f"{spec.function.upper()} takes an offset of 0 or more, not {offset}")
        at = number + sign * offset
        if spec.ignore_nulls and offset:
            place = bisect_left(counted, number) - offset if sign < 0 else bisect_right(counted, number) + offset - 1
            at = counted[place] if 0 <= place < len(counted) else -1
        if 0 <= at < len(members):
            values.append(taken[at])
        else:
            values.append(row[spec.arguments[2]] if len(spec.arguments) > 2 else None)
    return values


# ---- frames ---------------------------------------------------------------------------------------------------------


def _frames(members: list[Row], spec: WindowSpecification, starts: list[int]) -> list[tuple[int, int]]:
    """For every row its frame: first position, and the one behind the last."""
    count = len(members)
    ends = _peer_ends(starts)
    edges = {"rows": _row_edges, "groups": _group_edges, "range": _range_edges}[spec.unit]
    if spec.start[0] == "unbounded preceding":
        first = [0] * count
    else:
        first = edges(members, spec, spec.start, starts, ends, True)
    if spec.end[0] == "unbounded following":
        last = [count] * count
    else:
        last = edges(members, spec, spec.end, starts, ends, False)
    return [
        (a if a > 0 else 0, b if 0 <= b <= count else 0 if b < 0 else count) for a, b in zip(first, last, strict=True)
    ]


def _offset(row: Row, bound: tuple[str, int]) -> Any:
    value = row[bound[1]]
    if value is None or value < 0:
        fail("22013", "the offset of a window frame is 0 or more")
    return value


def _row_edges(
    members: list[Row],
    spec: WindowSpecification,
    bound: tuple[str, int],
    starts: list[int],
    ends: list[int],
    is_start: bool,
) -> list[int]:
    behind = 0 if is_start else 1
    if bound[0] == "current row":
        return list(range(behind, len(members) + behind))
    sign = -1 if bound[0] == "preceding" else 1
    return [n + sign * _offset(row, bound) for n, row in enumerate(members, behind)]


def _group_edges(
    members: list[Row],
    spec: WindowSpecification,
    bound: tuple[str, int],
    starts: list[int],
    ends: list[int],
    is_start: bool,
) -> list[int]:
    kind, count = bound[0], len(members)
    groups = sorted(set(starts))
    sign = {"preceding": -1, "current row": 0, "following": 1}[kind]
    edges = []
    for number, row in enumerate(members):
        group = bisect_left(groups, starts[number]) + sign * (_offset(row, bound) if sign else 0)
        group += 0 if is_start else 1
        edges.append(groups[group] if 0 <= group < len(groups) else 0 if group < 0 else count)
    return edges


def _range_edges(
    members: list[Row],
    spec: WindowSpecification,
    bound: tuple[str, int],
    starts: list[int],
    ends: list[int],
    is_start: bool,
) -> list[int]:
    kind, count = bound[0], len(members)
    if kind == "current row":
        return starts if is_start else ends
    position, descending, _ = spec.order[0]
    low = next((n for n, row in enumerate(members) if row[position] is not None), count)
    high = next((n for n in range(count, 0, -1) if members[n - 1][position] is not None), low)
    keys = [_linear(row[position]) for row in members[low:high]]
    if descending:
        keys.reverse()
    back = (kind == "preceding") != descending
    edges = []
    for number, row in enumerate(members):
        if row[position] is None:
            edges.append(starts[number] if is_start else ends[number])
            continue
        limit = _shifted(_linear(row[position]), _offset(row, bound), back, spec.in_months)
        if descending:
            found = len(keys) - (bisect_right(keys, limit) if is_start else bisect_left(keys, limit))
        else:
            found = bisect_left(keys, limit) if is_start else bisect_right(keys, limit)
        edges.append(low + found)
    return edges


def _linear(key: Any) -> Any:
    """A sort key as something that offsets can be added to: a time of day does not begin anew at midnight."""
    return micros_of(key) if isinstance(key, time) else key


def _shifted(key: Any, offset: Any, back: bool, in_months: bool) -> Any:
    amount = -offset if back else offset
    if isinstance(key, int | float):
        return key + amount
    return moved_months(key, amount) if in_months else moved(key, amount)


# ---- set functions over frames --------------------------------------------------------------------------------------


def _aggregates(members: list[Row], spec: WindowSpecification, parts: list[Parts], watch: Watcher) -> list[Any]:
    """A set function over every frame. What can be told from totals up to each row, or from the best of stretches of
    two, four, eight rows, costs no more for a long frame than for a short one."""
    values = [_counted(row, spec) for row in members]
    if spec.function in ("count", "sum", "avg") and spec.type.family in ("exact", "months", "micros"):
        return _from_totals(values, spec, parts)
    if spec.function in ("every", "any", "some"):
        return _from_verdicts(values, spec, parts)
    if spec.function in ("min", "max"):
        choose: Callable[[Any, Any], Any] = min if spec.function == "min" else max
        return Best(values, partial(_better, choose) if None in values else choose).over(parts)
    if spec.function == "array_agg":  # which has NULLs too, but not of rows that FILTER leaves out
        values = [(row[spec.arguments[0]],) if _is_counted(row, spec) else None for row in members]
    elif spec.function in BINARY_AGGREGATES:
        pairs = [
            (row[spec.arguments[0]], row[spec.arguments[1]]) if _is_counted(row, spec) else (None,) for row in members
        ]
        values = [None if None in pair else pair for pair in pairs]
    compute = _COMPUTE[spec.function]
    found: list[Any] = []
    for number, stretches in enumerate(parts):
        if number and stretches == parts[number - 1]:
            found.append(found[-1])
            continue
        watch()
        inside = [v for a, b in stretches for v in values[a:b] if v is not None]
        found.append(compute(inside, spec))
    return found


class Best:
    """The least or greatest of any stretch of values. NULLs are passed over.

    Frames that move on have one length: values are cut into blocks of it, and the best is known from the start of each
    block, and up to its end (van Herk, Gil and Werman); a stretch lies in two of them, or begins or ends with one.
    For others it is known, for each power of two, of so many values from each position on: two looks."""

    def __init__(self, values: list[Any], choose: Callable[[Any, Any], Any]) -> None:
        self.choose = choose
        self.levels = [values]

    def over(self, parts: list[Parts]) -> list[Any]:
        """The best of each frame; None of one that is empty."""
        lengths = [last - first for stretches in parts for first, last in stretches]
        width = max(lengths, default=1)
        so_far, to_come = self._blocks(width)
        choose, count, found = self.choose, len(to_come), []
        for stretches in parts:
            bests = []
            for first, last in stretches:
                if first // width != (last - 1) // width:
                    bests.append(choose(to_come[first], so_far[last - 1]))
                elif first % width == 0:
                    bests.append(so_far[last - 1])
                elif last % width == 0 or last == count:
                    bests.append(to_come[first])
                else:
                    bests.append(self._within(first, last))
            found.append(bests[0] if len(bests) == 1 else reduce(choose, bests) if bests else None)
        return found

    def _blocks(self, width: int) -> tuple[list[Any], list[Any]]:
        """For each value the best from the start of its block, and the best up to the end of it."""
        so_far: list[Any] = []
        to_come: list[Any] = []
        values = self.levels[0]
        for start in range(0, len(values), width):
            block = values[start : start + width]
            so_far += accumulate(block, self.choose)
            to_come += list(accumulate(reversed(block), self.choose))[::-1]
        return so_far, to_come

    def _within(self, first: int, last: int) -> Any:
        number = (last - first).bit_length() - 1
        while len(self.levels) <= number:
            below, width = self.levels[-1], 1 << (len(self.levels) - 1)
            self.levels.append(list(map(self.choose, below, below[width:])))
        level = self.levels[number]
        return self.choose(level[first], level[last - (1 << number)])


def _is_counted(row: Row, spec: WindowSpecification) -> bool:
    """Whether FILTER leaves a row in."""
    return spec.where < 0 or row[spec.where] is True


def _counted(row: Row, spec: WindowSpecification) -> Any:
    """What a row adds to a set function: its argument; for COUNT(*) anything; nothing when FILTER leaves it out."""
    if not _is_counted(row, spec):
        return None
    return row[spec.arguments[0]] if spec.arguments else 1


def _better(choose: Callable[[Any, Any], Any], one: Any, other: Any) -> Any:
    """The less or greater of two values, of which either may be NULL."""
    return other if one is None else one if other is None else choose(one, other)


def _totals(values: Iterable[int], parts: list[Parts]) -> list[int]:
    """The sum over each frame: what there is up to the ends of its stretches, without what comes before them."""
    sums = list(accumulate(values, initial=0))
    if all([len(stretches) == 1 for stretches in parts]):  # noqa: C419, a list is quicker
        return [sums[end] - sums[start] for ((start, end),) in parts]
    return [sum([sums[end] - sums[start] for start, end in stretches]) for stretches in parts]


def _from_verdicts(values: list[Any], spec: WindowSpecification, parts: list[Parts]) -> list[Any]:
    """EVERY, ANY and SOME."""
    true = _totals((value is True for value in values), parts)
    false = _totals((value is False for value in values), parts)
    if spec.function == "every":
        return [None if not t + f else not f for t, f in zip(true, false, strict=True)]
    return [None if not t + f else bool(t) for t, f in zip(true, false, strict=True)]


def _from_totals(values: list[Any], spec: WindowSpecification, parts: list[Parts]) -> list[Any]:
    """COUNT, SUM and AVG of exact numbers and intervals."""
    sizes = _totals((value is not None for value in values), parts)
    if spec.function == "count":
        return sizes
    totals = _totals((value or 0 for value in values), parts)
    if spec.function == "sum":
        least, most = (min(totals), max(totals)) if totals else (0, 0)
        if spec.type.family != "exact" or -spec.type.limit < least <= most < spec.type.limit:
            return [total if size else None for total, size in zip(totals, sizes, strict=True)]
        return [_checked(total, spec) if size else None for total, size in zip(totals, sizes, strict=True)]
    return [average_of(total, size, *_steps(spec)) if size else None for total, size in zip(totals, sizes, strict=True)]


def _checked(value: Any, spec: WindowSpecification) -> Any:
    if spec.type.family == "approximate":
        return check_float(value)
    if spec.type.family != "exact":
        return value
    return check_integer(value, spec.type) if spec.type.is_integer else check_decimal(value, spec.type)


def _average(values: list[Any], spec: WindowSpecification) -> Any:
    if not values:
        return None
    if spec.type.family == "approximate":
        return check_float(sum(values) / len(values))
    return average(values, *_steps(spec))


def _steps(spec: WindowSpecification) -> tuple[int, int]:
    """How many more digits behind the point an average has than its argument, and the unit of an interval."""
    if spec.type.family != "exact":
        return 0, interval_unit(spec.type)
    return spec.type.scale - (spec.argument_type.scale if spec.argument_type.kind == "decimal" else 0), 1


def _spread(values: list[Any], spec: WindowSpecification) -> Any:
    return spread(values, spec.function)


_COMPUTE: dict[str, Callable[[list[Any], WindowSpecification], Any]] = {
    **dict.fromkeys(STATISTICS, _spread),
    **dict.fromkeys(BINARY_AGGREGATES, lambda values, spec: regression(values, spec.function)),
    "array_agg": lambda values, spec: tuple(value for (value,) in values) or None,
    "count": lambda values, spec: len(values),
    "sum": lambda values, spec: _checked(sum(values), spec) if values else None,
    "avg": _average,
    "any_value": lambda values, spec: values[0] if values else None,
}
