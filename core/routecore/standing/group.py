"""A parent and its members: each has its own balance; a limit of the parent's is the group's.

Source: the house's own policy.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

from routecore.exact import EXACT
from routecore.money import in_own_context, sum_of
from routecore.standing.reason import Reason


@dataclass(frozen=True, slots=True, kw_only=True)
class Group:
    """What a group comes to in the base currency, and the parent's own halts, which are every member's."""

    exposure: Decimal
    limit: Decimal | None
    halts: tuple[Reason, ...] = ()

    @property
    def available(self) -> Decimal | None:
        """What is left of the group's limit; None without one."""
        return None if self.limit is None else EXACT.subtract(self.limit, self.exposure)


@in_own_context
def group_of(
    parent_limit: Decimal | None, exposures: Iterable[Decimal], parent_reasons: Iterable[Reason]
) -> Group:
    """The group of a parent, its exposures (the parent's own and every member's), and its own reasons.

    >>> halted = [Reason(code="held", verdict="halt"), Reason(code="overdue", verdict="caution")]
    >>> found = group_of(Decimal(1000), [Decimal(300), Decimal(450)], halted)
    >>> str(found.available), [reason.code for reason in found.halts]
    ('250', ['held'])
    """
    return Group(
        exposure=sum_of(exposures),
        limit=parent_limit,
        halts=tuple(
            Reason(
                code=each.code,
                verdict=each.verdict,
                amount=each.amount,
                days=each.days,
                of="parent",
            )
            for each in parent_reasons
            if each.verdict == "halt" and not each.of
        ),
    )
