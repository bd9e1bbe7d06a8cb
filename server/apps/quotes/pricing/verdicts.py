"""The verdicts over a quote, from a priced answer and where the quote stands."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from django.conf import settings

from routecore.checks import Check, Phase, judge_dates, judge_limits, judge_margin, judge_prices

#: The phase of a quote in each state.
PHASES: dict[str, Phase] = {
    "draft": "draft",
    "issued": "offered",
    "lapsed": "offered",
    "revised": "offered",
    "part_ordered": "offered",
    "ordered": "ordered",
    "declined": "declined",
}

#: Problems of no line that halt the prices; a quote without lines is just not begun.
OF_THE_WHOLE = ("discount_not_reached", "needs_tax_reason")


@dataclass(frozen=True, slots=True, kw_only=True)
class Checks:
    """One verdict each; the standing has its own."""

    prices: Check
    margin: Check
    limits: Check
    dates: Check


def checks_of(
    priced: dict[str, Any],
    *,
    state: str,
    on: date,
    valid_until: date,
    today: date,
    answer: str | None = None,
) -> Checks:
    """Judge an answer as of a day; ``answer`` is the sign-off's, None where none was asked."""
    phase = PHASES[state]
    margin = priced["totals"]["margin_percent"]
    faulty = {problem["line"] for problem in priced["problems"] if problem["line"]}
    of_the_whole = [row for row in priced["problems"] if row["code"] in OF_THE_WHOLE]
    return Checks(
        prices=judge_prices(
            lines=len(priced["lines"]),
            faulty=len(faulty) + len(of_the_whole),
            days_old=(today - on).days,
            phase=phase,
        ),
        margin=judge_margin(
            None if margin is None else Decimal(margin), Decimal(settings.MARGIN_FLOOR_PERCENT)
        ),
        limits=judge_limits(excesses=len(priced.get("excesses", ())), answer=answer),
        dates=judge_dates(
            days_left=(valid_until - today).days,
            lapsing_days=settings.QUOTE_LAPSING_DAYS,
            phase=phase,
        ),
    )
