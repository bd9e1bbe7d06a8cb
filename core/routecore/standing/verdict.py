"""Clear, Caution or Halt, with every reason that applies.

Source: the house's own policy; each number is an argument with this default.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from decimal import Decimal

from routecore.exact import EXACT
from routecore.money import ZERO, in_own_context, percent_of
from routecore.standing.ageing import Ageing
from routecore.standing.group import Group
from routecore.standing.reason import Reason

#: Figures older than this are said to be.
STALE_HOURS = 24


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """The verdict and its figures, all in the base currency.

    ``exposure`` is the balance, what was delivered and is ``not_invoiced``, and confirmed orders that are
    ``not_delivered``.
    ``available`` is limit less exposure; ``after`` what is left of it after this document; both
    None without a limit. ``group`` is the group's, where there is one, before this
    document, and ``group_after`` what is left of its limit after it.
    """

    verdict: str
    reasons: tuple[Reason, ...]
    ageing: Ageing
    not_invoiced: Decimal
    not_delivered: Decimal
    exposure: Decimal
    limit: Decimal | None
    available: Decimal | None
    after: Decimal | None
    group: Group | None = None
    group_after: Decimal | None = None


def exposure_of(ageing: Ageing, not_invoiced: Decimal, not_delivered: Decimal) -> Decimal:
    """The balance, what was delivered and is not invoiced, and confirmed orders that are not delivered."""
    return EXACT.add(EXACT.add(ageing.balance, not_invoiced), not_delivered)


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
    group: Group | None = None,
) -> Standing:
    """The verdict on a customer before (or after) one more document.

    ``not_invoiced`` is delivered but not invoiced, ``not_delivered`` confirmed orders, both gross;
    ``this_document`` the payable of the quote at hand. ``age_hours`` is how old the figures are.
    A ``group``'s limit counts as well, for what all of it owes; its parent's halts are every member's.
    """
    exposure = exposure_of(ageing, not_invoiced, not_delivered)
    used = exposure + this_document
    reasons = [*_of_hold(held), *_of_age(ageing, tolerance_days)]
    if limit is not None or group is None or group.limit is None:
        reasons += _of_limit(used, limit, near_percent)
    if group is not None:
        reasons += _of_group(group, this_document, near_percent)
    reasons += _of_staleness(age_hours)
    return Standing(
        verdict=_worst(reasons),
        reasons=tuple(reasons),
        ageing=ageing,
        not_invoiced=not_invoiced,
        not_delivered=not_delivered,
        exposure=exposure,
        limit=limit,
        available=_left(limit, exposure),
        after=_left(limit, used),
        group=group,
        group_after=None if group is None else _left(group.available, this_document),
    )


def _of_hold(held: bool) -> Iterable[Reason]:
    """The back office has stopped it."""
    if held:
        yield Reason(code="held", verdict="halt")


def _of_staleness(age_hours: int) -> Iterable[Reason]:
    """The figures are old."""
    if age_hours > STALE_HOURS:
        yield Reason(code="stale", verdict="caution", days=age_hours // 24)


def _of_group(group: Group, this_document: Decimal, near_percent: Decimal) -> Iterable[Reason]:
    """The parent's halts, and the group's limit where it has one."""
    yield from group.halts
    if group.limit is not None:
        for each in _of_limit(group.exposure + this_document, group.limit, near_percent):
            yield replace(each, of="group")


def _left(limit: Decimal | None, used: Decimal) -> Decimal | None:
    """What is left of a limit; None without one."""
    return None if limit is None else limit - used


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
