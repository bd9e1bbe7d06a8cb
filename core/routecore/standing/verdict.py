"""Clear, Caution or Halt, with every reason that applies.

Source: the house's own policy; each number is an argument with this default.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

from routecore.money import ZERO, in_own_context, percent_of
from routecore.standing.ageing import Ageing

#: Figures older than this are said to be.
STALE_HOURS = 24


@dataclass(frozen=True, slots=True, kw_only=True)
class Reason:
    """One reason: its code, the verdict it leads to, and the figure behind it. All that apply are
    listed, also the lesser beside the greater.

    Halt: ``held``, ``overdue_beyond_tolerance``, ``over_limit``. Caution: ``overdue``,
    ``near_limit``, ``no_limit``, ``stale``.
    """

    code: str
    verdict: str
    amount: Decimal | None = None
    days: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """The verdict and its figures, all in the base currency.

    ``available`` is limit less exposure; ``after`` what is left of it after this document; both
    None without a limit.
    """

    verdict: str
    reasons: tuple[Reason, ...]
    ageing: Ageing
    exposure: Decimal
    limit: Decimal | None
    available: Decimal | None
    after: Decimal | None


@in_own_context
def judge_standing(
    ageing: Ageing,
    *,
    limit: Decimal | None,
    not_invoiced: Decimal = ZERO,
    not_delivered: Decimal = ZERO,
    this_document: Decimal = ZERO,
    held: bool = False,
    age_hours: int = 0,
    tolerance_days: int = 30,
    near_percent: Decimal = Decimal(80),
) -> Standing:
    """The verdict on a customer before (or after) one more document.

    ``not_invoiced`` is delivered but not invoiced, ``not_delivered`` confirmed orders, both gross;
    ``this_document`` the payable of the quote at hand. ``age_hours`` is how old the figures are.
    """
    exposure = ageing.balance + not_invoiced + not_delivered
    used = exposure + this_document
    reasons: list[Reason] = []
    if held:
        reasons.append(Reason(code="held", verdict="halt"))
    reasons += _of_age(ageing, tolerance_days)
    reasons += _of_limit(used, limit, near_percent)
    if age_hours > STALE_HOURS:
        reasons.append(Reason(code="stale", verdict="caution", days=age_hours // 24))
    return Standing(
        verdict=_worst(reasons),
        reasons=tuple(reasons),
        ageing=ageing,
        exposure=exposure,
        limit=limit,
        available=None if limit is None else limit - exposure,
        after=None if limit is None else limit - used,
    )


def _of_age(ageing: Ageing, tolerance_days: int) -> Iterable[Reason]:
    """Overdue, and beyond the tolerance: both where both hold."""
    overdue, days = ageing.overdue, ageing.oldest_days
    if days > tolerance_days:
        yield Reason(code="overdue_beyond_tolerance", verdict="halt", amount=overdue, days=days)
    if overdue:
        yield Reason(code="overdue", verdict="caution", amount=overdue, days=days)


def _of_limit(used: Decimal, limit: Decimal | None, near_percent: Decimal) -> Iterable[Reason]:
    """Over the limit, and near it: both where both hold; what is left of it is then nothing."""
    if limit is None:
        yield Reason(code="no_limit", verdict="caution")
        return
    if used > limit:
        yield Reason(code="over_limit", verdict="halt", amount=used - limit)
    if used > percent_of(limit, near_percent):
        yield Reason(code="near_limit", verdict="caution", amount=max(limit - used, ZERO))


def _worst(reasons: list[Reason]) -> str:
    verdicts = {reason.verdict for reason in reasons}
    return "halt" if "halt" in verdicts else "caution" if "caution" in verdicts else "clear"
