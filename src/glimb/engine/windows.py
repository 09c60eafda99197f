"""Window functions at run time (ISO/IEC 9075-2 clauses 6.10, 7.15): partitions, peers, frames and what is computed over
them. Rows are tuples; a specification says at which positions arguments and keys stand."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections import defaultdict
from collections.abc import Callable
from functools import partial
from itertools import accumulate
from operator import itemgetter
from typing import Any

from glimb.engine.conditions import fail
from glimb.engine.functions import PICKS, RANKS, STATISTICS, average, average_of, spread
from glimb.engine.types import Type
from glimb.engine.values import check_decimal, check_float, check_integer, moved
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


def window_values(rows: list[Row], spec: WindowSpecification) -> list[Any]:
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
        for number, value in zip(numbers, _over_partition(members, spec), strict=True):
            values[number] = value
    return values


def _sort_keys(rows: list[Row], position: int, descending: bool, nulls_first: bool) -> tuple[list[Any], bool]:
    """What each row is sorted by, and whether backwards."""
    keys = [row[position] for row in rows]
    if None in keys:
        nulls_low = nulls_first != descending
        keys = [((key is None) != nulls_low, 0 if key is None else key) for key in keys]
    return keys, descending


def _over_partition(members: list[Row], spec: WindowSpecification) -> list[Any]:
    starts = _peer_starts(members, spec)
    if spec.function in RANKS:
        return _ranks(members, spec, starts)
    if spec.function == "ntile":
        return _ntile(members, spec)
    if spec.function in ("lag", "lead"):
        return _neighbours(members, spec)
    frames = _frames(members, spec, starts)
    if spec.function in PICKS:
        if spec.ignore_nulls or spec.from_last or spec.exclude:
            inside = _inside(frames, starts, spec)
            return [_pick_from(members, spec, row, places) for row, places in zip(members, inside, strict=True)]
        return [_pick(members, spec, row, frame) for row, frame in zip(members, frames, strict=True)]
    if spec.exclude:
        values = [_counted(row, spec) for row in members]
        compute, keep = _COMPUTE[spec.function], spec.function == "array_agg"
        return [
            compute([values[p] for p in places if keep or values[p] is not None], spec)
            for places in _inside(frames, starts, spec)
        ]
    return _aggregates(members, spec, frames)


def _inside(frames: list[tuple[int, int]], starts: list[int], spec: WindowSpecification) -> list[list[int]]:
    """For every row the positions of its frame that EXCLUDE leaves."""
    ends = _peer_ends(starts)
    inside = []
    for number, (first, last) in enumerate(frames):
        peers = range(starts[number], ends[number])
        if spec.exclude == "current row":
            out: set[int] = {number}
        elif spec.exclude == "group":
            out = set(peers)
        else:
            out = set(peers) - {number} if spec.exclude == "ties" else set()
        inside.append([p for p in range(first, last) if p not in out])
    return inside


def _pick_from(members: list[Row], spec: WindowSpecification, row: Row, places: list[int]) -> Any:
    """FIRST_VALUE, LAST_VALUE, NTH_VALUE where not every row of the frame counts, or counting starts at its end."""
    values = [members[p][spec.arguments[0]] for p in places]
    if spec.ignore_nulls:
        values = [v for v in values if v is not None]
    at = 1
    if spec.function == "nth_value":
        at = row[spec.arguments[1]]
        if at is None:
            return None
        if at < 1:
            fail("22016", f"NTH_VALUE takes a number above 0, not {at}")
    if spec.function == "last_value" or spec.from_last:
        values.reverse()
    return values[at - 1] if at <= len(values) else None


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
    for number, row in enumerate(members):
        offset = row[spec.arguments[1]] if len(spec.arguments) > 1 else 1
        if offset is None:
            values.append(None)
            continue
        if offset < 0:
            fail("22016", f"{spec.function.upper()} takes an offset of 0 or more, not {offset}")
        at = number + sign * offset
        if spec.ignore_nulls and offset:
            seen = [
                p
                for p in (range(number - 1, -1, -1) if sign < 0 else range(number + 1, len(members)))
                if members[p][spec.arguments[0]] is not None
            ]
            at = seen[offset - 1] if offset <= len(seen) else -1
        if 0 <= at < len(members):
            values.append(members[at][spec.arguments[0]])
        else:
            values.append(row[spec.arguments[2]] if len(spec.arguments) > 2 else None)
    return values


def _pick(members: list[Row], spec: WindowSpecification, row: Row, frame: tuple[int, int]) -> Any:
    """FIRST_VALUE, LAST_VALUE, NTH_VALUE: a row of the frame, NULL when it has none."""
    start, end = frame
    at = start
    if spec.function == "last_value":
        at = end - 1
    elif spec.function == "nth_value":
        nth = row[spec.arguments[1]]
        if nth is None:
            return None
        if nth < 1:
            fail("22016", f"NTH_VALUE takes a number above 0, not {nth}")
        at = start + nth - 1
    return members[at][spec.arguments[0]] if start <= at < end else None


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
    return [(max(0, a), max(0, min(count, b))) for a, b in zip(first, last, strict=True)]


def _offset(row: Row, bound: tuple[str, int]) -> Any:
    value = row[bound[1]]
    if value is None or (isinstance(value, int) and value < 0):
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
    kind = bound[0]
    sign = {"preceding": -1, "current row": 0, "following": 1}[kind]
    behind = 0 if is_start else 1
    return [n + sign * (_offset(row, bound) if sign else 0) + behind for n, row in enumerate(members)]


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
    keys = [row[position] for row in members[low:high]]
    if descending:
        keys.reverse()
    back = (kind == "preceding") != descending
    edges = []
    for number, row in enumerate(members):
        if row[position] is None:
            edges.append(starts[number] if is_start else ends[number])
            continue
        limit = _shifted(row[position], _offset(row, bound), back)
        if descending:
            found = len(keys) - (bisect_right(keys, limit) if is_start else bisect_left(keys, limit))
        else:
            found = bisect_left(keys, limit) if is_start else bisect_right(keys, limit)
        edges.append(low + found)
    return edges


def _shifted(key: Any, offset: int, back: bool) -> Any:
    amount = -offset if back else offset
    return key + amount if isinstance(key, int) else moved(key, amount)


# ---- set functions over frames --------------------------------------------------------------------------------------


def _aggregates(members: list[Row], spec: WindowSpecification, frames: list[tuple[int, int]]) -> list[Any]:
    """A set function over every frame. Frames that only grow are summed up as they do."""
    values = [_counted(row, spec) for row in members]
    compute = _COMPUTE[spec.function]
    if spec.function == "array_agg":
        return [tuple(values[start:end]) if end > start else None for start, end in frames]
    if all(frame == frames[0] for frame in frames):
        start, end = frames[0]
        return [compute([v for v in values[start:end] if v is not None], spec)] * len(members)
    if spec.function in ("count", "sum", "avg") and spec.type.family == "exact":
        return _from_totals(values, spec, frames)
    if spec.function in ("min", "max") and all(start == 0 for start, _ in frames):
        best = list(accumulate(values, partial(_better, min if spec.function == "min" else max)))
        return [best[end - 1] if end else None for _, end in frames]
    return [compute([v for v in values[start:end] if v is not None], spec) for start, end in frames]


def _counted(row: Row, spec: WindowSpecification) -> Any:
    """What a row adds to a set function: its argument; for COUNT(*) anything; nothing when FILTER leaves it out."""
    if spec.where >= 0 and row[spec.where] is not True:
        return None
    return row[spec.arguments[0]] if spec.arguments else 1


def _better(choose: Callable[[Any, Any], Any], one: Any, other: Any) -> Any:
    """The less or greater of two values, of which either may be NULL."""
    return other if one is None else one if other is None else choose(one, other)


def _from_totals(values: list[Any], spec: WindowSpecification, frames: list[tuple[int, int]]) -> list[Any]:
    """COUNT, SUM and AVG of exact numbers: a frame has what there is up to its end, without what comes before it."""
    frames = [(start, end) if start < end else (0, 0) for start, end in frames]
    counts = list(accumulate((value is not None for value in values), initial=0))
    sizes = [counts[end] - counts[start] for start, end in frames]
    if spec.function == "count":
        return sizes
    sums = list(accumulate((value or 0 for value in values), initial=0))
    totals = [sums[end] - sums[start] for start, end in frames]
    if spec.function == "sum":
        return [_checked(total, spec) if size else None for total, size in zip(totals, sizes, strict=True)]
    return [average_of(total, size, _shift(spec)) if size else None for total, size in zip(totals, sizes, strict=True)]


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
    return average(values, _shift(spec))


def _shift(spec: WindowSpecification) -> int:
    """How many more digits behind the point an average has than its argument."""
    if spec.type.family != "exact":
        return 0
    return spec.type.scale - (spec.argument_type.scale if spec.argument_type.kind == "decimal" else 0)


def _spread(values: list[Any], spec: WindowSpecification) -> Any:
    return spread(values, spec.function)


_COMPUTE: dict[str, Callable[[list[Any], WindowSpecification], Any]] = {
    **dict.fromkeys(STATISTICS, _spread),
    "array_agg": lambda values, spec: tuple(values) or None,
    "count": lambda values, spec: len(values),
    "sum": lambda values, spec: _checked(sum(values), spec) if values else None,
    "avg": _average,
    "min": lambda values, spec: min(values, default=None),
    "max": lambda values, spec: max(values, default=None),
    "every": lambda values, spec: all(values) if values else None,
    "any": lambda values, spec: any(values) if values else None,
    "some": lambda values, spec: any(values) if values else None,
    "any_value": lambda values, spec: values[0] if values else None,
}
