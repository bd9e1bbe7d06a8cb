"""The verdicts of the checks over a quote: prices, margin, limits, promise, dates.

Each is ``clear``, ``caution`` or ``halt``, or ``none`` where there is nothing to judge yet. The
standing has its own rules (``routecore.standing``). Common practice, no source.
"""

from decimal import Decimal
from typing import Literal

Check = Literal["clear", "caution", "halt", "none"]
#: What became of a document: still a draft, with the buyer, or answered one way or the other.
Phase = Literal["draft", "offered", "ordered", "declined"]


def judge_prices(*, lines: int, faulty: int, days_old: int, phase: Phase) -> Check:
    """Halt where a line is to mend; caution for a draft at the prices of an earlier day.

    >>> judge_prices(lines=3, faulty=0, days_old=2, phase="draft")
    'caution'
    """
    if lines == 0:
        return "none"
    if faulty:
        return "halt"
    return "caution" if phase == "draft" and days_old > 0 else "clear"


def judge_margin(margin_percent: Decimal | None, floor_percent: Decimal) -> Check:
    """Caution below the floor; an unknown margin is not judged.

    >>> judge_margin(Decimal("19.9"), Decimal(20))
    'caution'
    """
    if margin_percent is None:
        return "none"
    return "caution" if margin_percent < floor_percent else "clear"


def judge_limits(*, excesses: int, answer: str | None) -> Check:
    """What exceeds a person's limits waits for a sign-off; ``answer`` is None where none was asked.

    >>> judge_limits(excesses=2, answer="granted")
    'clear'
    """
    if excesses == 0:
        return "none"
    verdicts: dict[str | None, Check] = {"granted": "clear", "refused": "halt"}
    return verdicts.get(answer, "caution")


def judge_promise(*, lines: int, short: int, late: int, stale: bool) -> Check:
    """Halt where a line is short, caution where one comes late or the figures are old; services are no lines.

    >>> judge_promise(lines=3, short=0, late=1, stale=False)
    'caution'
    """
    if lines == 0:
        return "none"
    if short:
        return "halt"
    return "caution" if late or stale else "clear"


def judge_dates(*, days_left: int, lapsing_days: int, phase: Phase) -> Check:
    """Halt once the validity is over, caution in its last days; an answered quote cannot lapse.

    >>> judge_dates(days_left=-3, lapsing_days=7, phase="ordered")
    'clear'
    """
    if phase == "ordered":
        return "clear"
    if phase == "declined":
        return "none"
    if days_left < 0:
        return "halt"
    return "caution" if days_left <= lapsing_days else "clear"
