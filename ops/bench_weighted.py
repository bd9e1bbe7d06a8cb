"""Fifty thousand open deals weighted by month, against a bare grouped sum; and the forecast's page against one row.

Part of ``make bench``; ``python -m ops.bench_weighted`` alone, on a demo of its own: the page is asked of the demo as it
is, before the deals are made.
"""

from collections.abc import Callable
from copy import copy
from datetime import timedelta
from decimal import Decimal
import os
from statistics import median
from time import perf_counter
from typing import Any

import httpx

from ops.bench_house import fresh_house
from ops.stack import Stack
from ops.visitor import signed_in

DEALS, ROUNDS, BATCH = 50_000, 15, 2_000
#: What the page asks for as it opens.
PAGES = (
    "forecast",
    "forecast/outlook",
    "forecast/cuts",
    "forecast/revenue",
    "forecast/calibration",
)
#: The sum that a month's weighting is held against: the same rows, grouped by the same months, and nothing else.
BARE = (
    "SELECT YEAR(decision_on), MONTH(decision_on), COUNT(*), SUM(amount) "
    "FROM deals_deal WHERE outcome = 'open' GROUP BY 1, 2"
)


def in_turns(acts: dict[str, Callable[[], object]]) -> dict[str, float]:
    """Milliseconds of each in the middle of some rounds, in which they take turns; the first warms up."""
    taken: dict[str, list[float]] = {name: [] for name in acts}
    for _ in range(ROUNDS + 1):
        for name, act in acts.items():
            start = perf_counter()
            act()
            taken[name].append((perf_counter() - start) * 1000)
    return {name: median(times[1:]) for name, times in taken.items()}


def pages(client: httpx.Client) -> dict[str, float]:
    """Each part of the page, and one row."""

    def ask(path: str) -> Callable[[], object]:
        return lambda: client.get(f"/api/{path}").raise_for_status()

    return in_turns({path: ask(path) for path in ("stages", *PAGES)})


def weighing(stack: Stack) -> tuple[float, float]:
    """Milliseconds of the house's forecast by month over all deals, and of the bare sum."""
    os.environ.update(
        {**stack.environment(), "VIVID_DB_USER": "vividroute", "VIVID_STATEMENT_SECONDS": "0"}
    )
    import django

    django.setup()
    from django.db import connection

    from api.shapes import today
    from apps.deals.queries import by_month, deals_of
    from apps.people.models import ADMIN, User

    _make_deals()
    chief, on = User.objects.filter(role=ADMIN).first(), today()
    if chief is None:
        raise SystemExit("the demo has no administrator")
    whole = deals_of(chief).open()

    def bare() -> None:
        with connection.cursor() as cursor:
            cursor.execute(BARE)
            cursor.fetchall()

    found = in_turns({"weighted": lambda: by_month(whole, on), "bare": bare})
    return found["weighted"], found["bare"]


def _make_deals() -> None:
    from apps.deals.models import OPEN, Deal
    from apps.kept.figures import later

    known = list(Deal.objects.filter(outcome=OPEN).order_by("pk"))

    def made(n: int) -> Any:
        row = copy(known[n % len(known)])
        row.pk, row.title, row.quoted_amount = None, f"Deal {n}", None
        row.estimate = Decimal(500 + 37 * (n % 4_001))
        row.decision_on = known[0].decision_on + timedelta(days=n % 400)
        return row

    with later():
        for first in range(0, DEALS, BATCH):
            Deal.objects.bulk_create([made(n) for n in range(first, first + BATCH)])


def main() -> None:
    """Measure and print."""
    with fresh_house() as stack:
        with signed_in(stack.url, "petra") as client:
            asked = pages(client)
        one = asked.pop("stages")
        for path, taken in sorted(asked.items(), key=lambda each: -each[1]):
            print(f"{taken / one:8.1f} ×  /{path} at the demo's size, against an endpoint that fetches one row "
                  f"(aim: 10; {taken:.0f} ms here)", flush=True)  # fmt: skip
        weighted, bare = weighing(stack)
        print(f"{weighted / bare:8.1f} ×  {DEALS:,} open deals weighted by month, against one bare grouped sum "
              f"(aim: 3; {weighted:.0f} ms here)")  # fmt: skip


if __name__ == "__main__":
    main()
