"""Where the stops of a chain of documents lie: columns by kind, rows by descent; the same for the same chain, always.

A stop stands in its kind's column. Its first descendant goes on in its row; each further one begins a row below
all that was placed for those before it. A stop with several origins (a payment for several invoices) stands by
the first of them. Where a place is taken, the next free one below it is.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from routecore.errors import InvalidInput


@dataclass(frozen=True, slots=True, kw_only=True)
class Stop:
    """A stop: its column, and the stops that it comes from, the first of which it stands by."""

    id: str
    column: int
    origins: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Place:
    """A place on the chart, counted from 0."""

    column: int
    row: int


def places_of(stops: Sequence[Stop]) -> Mapping[str, Place]:
    """The place of every stop. Raises ``InvalidInput`` for two of one id, and an origin that does not come before.

    >>> chain = [Stop(id="o", column=0), Stop(id="a", column=1, origins=("o",)), Stop(id="b", column=1, origins=("o",))]
    >>> {key: (place.column, place.row) for key, place in places_of(chain).items()}
    {'o': (0, 0), 'a': (1, 0), 'b': (1, 1)}
    """
    known: dict[str, Stop] = {}
    below: dict[str, list[str]] = {"": []}
    for stop in stops:
        if stop.id in known:
            raise InvalidInput("double_id", path=stop.id)
        for origin in stop.origins:
            if origin not in known or known[origin].column >= stop.column:
                raise InvalidInput("unknown", path=stop.id, facts={"value": origin})
        known[stop.id] = stop
        below[stop.id] = []
        below[stop.origins[0] if stop.origins else ""].append(stop.id)
    found: dict[str, Place] = {}
    taken: set[Place] = set()
    row = 0
    for root in below[""]:
        row = _place(root, row, known, below, found, taken) + 1
    return {stop.id: found[stop.id] for stop in stops}


def _place(
    start: str,
    row: int,
    known: Mapping[str, Stop],
    below: Mapping[str, Sequence[str]],
    found: dict[str, Place],
    taken: set[Place],
) -> int:
    """Place a stop and what comes of it; the last row that it needs. Without recursion: chains may be long."""
    last = row
    waiting = [(start, row)]
    while waiting:
        key, wanted = waiting.pop()
        column = known[key].column
        at = max(wanted, row)
        if key != start and below[known[key].origins[0]].index(key):
            at = max(at, last + 1)
        while Place(column, at) in taken:
            at += 1
        found[key] = Place(column, at)
        taken.add(found[key])
        last = max(last, at)
        waiting.extend((each, at) for each in reversed(below[key]))
    return last
